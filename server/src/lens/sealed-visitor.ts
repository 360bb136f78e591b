import type { LensVisitor } from '@unvelt/contract'
import { ProblemError } from '../problem/problem.error.js'
import { seal } from '../site-http/secret-box.js'
import type { LensSettings } from './lens-settings.js'

/**
 * A visitor as it is kept: what signs it in is sealed.
 *
 * @param kept What the lens had before: it stays where nothing new of its kind is entered.
 * @throws ProblemError naming the field that is missing.
 */
export function sealedVisitor(
  { kind, role = '', cookie, path, page, fields }: LensVisitor,
  secret: Buffer,
  kept?: LensSettings['visitor'],
): LensSettings['visitor'] {
  const before = kept?.kind === kind && kept.kind !== 'signed-out' ? kept.sealed : null
  const need = (field: string, message: string) =>
    new ProblemError(422, message, [{ field: `visitor/${field}`, message }])
  switch (kind) {
    case 'signed-out':
      return { kind }
    case 'cookie': {
      const sealed = cookie ? seal(cookie, secret) : before
      if (!sealed) throw need('cookie', 'Enter the cookie that signs the visitor in.')
      return { kind, role, sealed }
    }
    case 'form': {
      if (!path) throw need('path', 'Enter the path that the sign-in form is sent to.')
      const given = fields && Object.keys(fields).length > 0 ? fields : null
      if (given && !Object.values(given).every((value) => typeof value === 'string'))
        throw need('fields', 'Expected a text for each field of the sign-in form.')
      const sealed = given ? seal(JSON.stringify(given), secret) : before
      if (!sealed) throw need('fields', 'Enter the fields of the sign-in form.')
      return { kind, role, path, ...(page && { page }), sealed }
    }
  }
}
