import { LockLost } from './locks.js'

/** The measuring browser can't be had. */
export class BrowserUnavailable extends Error {
  constructor(
    message: string,
    /** A busy machine may have it a little later; where there is no such program nobody has. */
    readonly passes: boolean,
  ) {
    super(message)
  }
}

export interface OwnTrouble {
  why: string
  /** Whether it goes away by itself, as a database does that is started anew. */
  passes: boolean
}

/**
 * What went wrong in Unvelt itself, and not on the site that was looked at; null for everything else. SQLSTATE classes as
 * PostgreSQL's manual has them (appendix A): 08 connection, 53 resources, 57P shut down, 58 system.
 */
export function ownTrouble(error: unknown): OwnTrouble | null {
  if (error instanceof LockLost) return { why: 'The connection to the database was lost.', passes: true }
  if (error instanceof BrowserUnavailable) return { why: error.message, passes: error.passes }
  const { name = '', message = '', original, parent } = (error ?? {}) as Partial<Error> & Record<string, unknown>
  const { code } = (original ?? parent ?? error ?? {}) as { code?: unknown }
  if (code === '53100' || code === 'ENOSPC' || code === 'EDQUOT')
    return { why: 'The disk that Unvelt writes to is full.', passes: false }
  if (typeof code === 'string' && /^(08...|57P..|58...|53...|25006)$/.test(code))
    return { why: `The database does not take anything at the moment (${code}).`, passes: true }
  const isGone =
    /^Sequelize(Connection|HostNotFound|HostNotReachable|AccessDenied|InvalidConnection|Timeout)/.test(name) ||
    /Connection terminated|server closed the connection|Client has encountered a connection error|ConnectionManager/.test(
      message,
    )
  return isGone ? { why: 'The database can’t be reached.', passes: true } : null
}
