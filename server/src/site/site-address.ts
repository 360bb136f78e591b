import { ProblemError } from '../problem/problem.error.js'

/** The origin of what the maintainer typed; a missing scheme is taken for https, on loopback for http. */
export function siteOrigin(typed: string): string {
  const text = typed.trim()
  const withScheme =
    /^[a-z][a-z0-9+.-]*:/i.test(text) && !/^[^/]*:\d+(\/|$)/.test(text) ? text : `${guessScheme(text)}://${text}`
  const refuse = (message: string) => new ProblemError(422, message, [{ field: 'address', message }])
  if (!URL.canParse(withScheme))
    throw refuse(`“${text}” is not an address. Expected something like https://www.example.org.`)
  const url = new URL(withScheme)
  if (url.protocol !== 'http:' && url.protocol !== 'https:')
    throw refuse(`Only http and https addresses can be looked after, not ${url.protocol.slice(0, -1)}.`)
  if (url.username || url.password) throw refuse('Please leave name and password out of the address.')
  return url.origin
}

const guessScheme = (text: string) => (/^(localhost|[^/]*\.localhost|127\.)/i.test(text) ? 'http' : 'https')
