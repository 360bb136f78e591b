import type { LensSettings } from '../lens/lens-settings.js'
import { signInFormOf } from './sign-in-form.js'
import type { Reach } from '../reach/reach.js'
import { open } from './secret-box.js'
import { whyUnreachable } from './site-fetch.js'
import { ReadingFailure } from '../reading/failure.js'
import { SiteVisit } from './site-visit.js'

type ByForm = Extract<LensSettings['visitor'], { kind: 'form' }>

/**
 * The cookies that sign the lens's visitor in, as `Cookie` has them; none for visitors who are signed out.
 * @throws ReadingFailure when the site takes the form and signs nobody in.
 */
export async function signIn(
  origin: string,
  { visitor }: Pick<LensSettings, 'visitor'>,
  secret: Buffer,
  reach: Reach,
): Promise<string | null> {
  if (visitor.kind === 'signed-out') return null
  const opened = open(visitor.sealed, secret)
  if (visitor.kind === 'cookie') return opened
  const values = JSON.parse(opened) as Record<string, string>
  try {
    return await sendForm(new SiteVisit(origin, reach), visitor, values)
  } catch (error) {
    if (error instanceof ReadingFailure) throw error
    throw new ReadingFailure(`Signing in failed. ${whyUnreachable(error, new URL(origin).host)}`)
  }
}

async function sendForm(visit: SiteVisit, visitor: ByForm, values: Record<string, string>): Promise<string> {
  const form = visitor.page ? await findForm(visit, visitor.page) : null
  // The whole address: a path cut out of it could lead elsewhere once more.
  const answer = await visit.post(form?.action ?? visitor.path, { ...form?.hidden, ...values })
  const path = new URL(answer.url).pathname
  const failed = (why: string) => new ReadingFailure(`Signing in failed: ${path} answered ${answer.status} and ${why}.`)
  const cookies = await visit.cookies()
  if (cookies === '') throw failed('set no cookie')
  // The site may have set a cookie before, so one that is there says little.
  if (signInFormOf(answer.html, answer.url)) throw failed('showed its form again')
  const back = answer.location && new URL(answer.location).pathname
  if (back && visitor.page && back === new URL(visitor.page, answer.url).pathname) throw failed('led back to its form')
  if (answer.status >= 400) throw failed('signed nobody in')
  return cookies
}

/**
 * The sign-in form of a page, as it is now.
 * @throws ReadingFailure where there is none, or where it is sent to another site.
 */
export async function findForm(visit: SiteVisit, page: string) {
  const { html, url, status } = await visit.get(page)
  const form = signInFormOf(html, url)
  if (!form) throw new ReadingFailure(`${page} answered ${status}, without a form that asks for one password.`)
  if (!visit.isOwn(form.action))
    throw new ReadingFailure(`The form of ${page} is sent to another site, ${new URL(form.action).host}.`)
  return form
}

/** One `Cookie` header as the browser wants its cookies. */
export const cookiesFor = (header: string, url: string) =>
  header.split(/;\s*/).flatMap((part) => {
    const at = part.indexOf('=')
    return at <= 0 ? [] : [{ name: part.slice(0, at), value: part.slice(at + 1), url }]
  })
