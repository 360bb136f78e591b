/** Why a page could not be read, as a plain sentence. */
export class ReadingFailure extends Error {}

const NETWORK: Record<string, string> = {
  ERR_CONNECTION_REFUSED: 'The site refused the connection.',
  ERR_CONNECTION_RESET: 'The site closed the connection.',
  ERR_CONNECTION_CLOSED: 'The site closed the connection.',
  ERR_EMPTY_RESPONSE: 'The site closed the connection without an answer.',
  ERR_NAME_NOT_RESOLVED: 'The name of the site does not resolve to any address.',
  ERR_TOO_MANY_REDIRECTS: 'The page redirects for ever.',
  ERR_ABORTED: 'The page is a download, or it stopped its own loading.',
  ERR_TIMED_OUT: 'The site did not answer in time.',
}

const MOST_NAMED = 3

/** A load that did not end, with what it still waited for. */
export function explained(error: unknown, underWay: readonly string[]): unknown {
  if (!(error instanceof Error) || !/Timeout .* exceeded/i.test(error.message) || underWay.length === 0) return error
  const named = underWay.slice(0, MOST_NAMED).map((url) => url.slice(0, 120))
  const more = underWay.length - named.length
  return new ReadingFailure(
    `The page did not finish loading in time. It still waited for ${named.join(', ')}${more > 0 ? ` and ${more} more` : ''}.`,
  )
}

/** Turns whatever went wrong in the browser into a sentence. */
export function failureSentence(error: unknown): string {
  if (error instanceof ReadingFailure) return error.message
  const text = error instanceof Error ? error.message : String(error)
  if (/Download is starting/i.test(text)) return NETWORK.ERR_ABORTED!
  const [, code] = /net::(ERR_[A-Z_]+)/.exec(text) ?? []
  if (code)
    return (
      NETWORK[code] ??
      (code.startsWith('ERR_CERT') ? `The site’s certificate is not valid (${code}).` : `The browser reports ${code}.`)
    )
  if (/Timeout .* exceeded/i.test(text)) return 'The page did not finish loading in time.'
  if (/crashed/i.test(text)) return 'The page crashed the browser’s tab.'
  if (/context was destroyed|navigat|detached/i.test(text))
    return 'The page went on to another address while it was being read.'
  if (/closed|disconnected/i.test(text)) return 'The measuring browser went away in the middle of the reading.'
  // What its own scripts made of the questions that it was asked is no sentence for anybody.
  if (
    /is not (a function|defined|iterable|an object)|Cannot (read|set|assign)|undefined|page\.evaluate|TypeError|RangeError/.test(
      text,
    )
  )
    return 'The page’s own scripts kept it from being read.'
  return `The page could not be read: ${text.split('\n')[0]!.slice(0, 200)}`
}
