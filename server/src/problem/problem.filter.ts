import { Catch, HttpException, type ArgumentsHost, type ExceptionFilter } from '@nestjs/common'
import type { Response } from 'express'
import { log } from '../log/log.js'
import { ProblemError } from './problem.error.js'

interface Problem {
  status: number
  title: string
}

/** Every error leaves as a problem document (RFC 9457); what is nobody's fault but ours is logged and not shown. */
@Catch()
export class ProblemFilter implements ExceptionFilter {
  catch(error: unknown, host: ArgumentsHost): void {
    const response = host.switchToHttp().getResponse<Response>()
    if (response.headersSent) return void response.end()
    const known = ofCaller(error)
    if (!known) log.error({ err: error }, 'a request failed for a reason of our own')
    const { status, title } = known ?? ofOurs(error)
    const body = error instanceof ProblemError ? error.getResponse() : { type: 'about:blank', status, title }
    response.status(status).type('application/problem+json').send(JSON.stringify(body))
  }
}

/** What is wrong with the request itself. */
function ofCaller(error: unknown): Problem | null {
  if (error instanceof HttpException) return { status: error.getStatus(), title: error.message }
  const { status, message, name, original, parent } = (error ?? {}) as Record<string, unknown>
  // The parsers of bodies and paths say by a status whose fault it is.
  if (typeof status === 'number' && status >= 400 && status < 500)
    return { status, title: typeof message === 'string' ? message.slice(0, 300) : 'The request can’t be read.' }
  if (name === 'URIError') return { status: 400, title: 'The address can’t be decoded.' }
  const { code } = (original ?? parent ?? {}) as { code?: string }
  return code !== undefined && OUT_OF_RANGE.has(code)
    ? { status: 422, title: 'A number or text in the request is of a size that can’t be kept.' }
    : null
}

/** SQLSTATE of values that no column holds: numbers too large, texts that are no numbers, the character U+0000. */
const OUT_OF_RANGE = new Set(['22003', '22P02', '22021', '22P05', '22001'])

function ofOurs(error: unknown): Problem {
  const isDatabase = /^Sequelize(Connection|HostNot|AccessDenied|InvalidConn)/.test((error as Error)?.name ?? '')
  return isDatabase
    ? { status: 503, title: 'The database does not answer.' }
    : { status: 500, title: 'Something went wrong in Unvelt itself.' }
}
