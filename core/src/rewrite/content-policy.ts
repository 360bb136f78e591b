const UNSAFE = "'unsafe-inline'"
const NONE = "'none'"
/** Directives that decide on what stands in the page, the first that is there alone (CSP Level 3, sections 6.8.3 and 6.8.4). */
const DECIDING = {
  scripts: ['script-src-elem', 'script-src', 'default-src'],
  styles: ['style-src-elem', 'style-src', 'default-src'],
}
const SPELT_OUT = { scripts: 'script-src', styles: 'style-src' }

/** What stands in a page, as policies name it: such as `'sha256-…'`. */
export interface AllowedHashes {
  scripts: readonly string[]
  styles: readonly string[]
}

/**
 * A `Content-Security-Policy` that lets scripts and styles with these hashes into the page, and is the same otherwise: what the
 * rewriter puts into a page has to run there, or what it refuses is refused by nobody.
 * @param policies The header's value; several policies stand behind each other with commas, and each has to allow it.
 */
export const withHashesAllowed = (policies: string, hashes: AllowedHashes): string =>
  policies
    .split(',')
    .map((policy) => allowedIn(allowedIn(policy, 'scripts', hashes.scripts), 'styles', hashes.styles))
    .join(',')

function allowedIn(policy: string, what: keyof AllowedHashes, hashes: readonly string[]): string {
  const directives = policy.split(';')
  const names = directives.map((directive) => directive.trim().split(/\s+/)[0]!.toLowerCase())
  const deciding = DECIDING[what].find((name) => names.includes(name))
  if (deciding === undefined || hashes.length === 0) return policy
  // Of a directive that stands twice the first one counts.
  const at = names.indexOf(deciding)
  const [name, ...sources] = directives[at]!.trim().split(/\s+/)
  const said = sources.map((source) => source.toLowerCase())
  const isStrict = said.some((source) => /^'(?:nonce|sha(?:256|384|512))-/.test(source))
  // A hash beside it would put it out of force, and break what runs by it.
  if (said.includes(UNSAFE) && !isStrict && !said.includes("'strict-dynamic'")) return policy
  const kept = sources.filter((source) => source.toLowerCase() !== NONE)
  const allowed = [...kept, ...hashes.filter((hash) => !kept.includes(hash))].join(' ')
  // What the general directive says of all else stays.
  if (deciding === 'default-src') return [...directives, ` ${SPELT_OUT[what]} ${allowed}`].join(';')
  const before = /^\s*/.exec(directives[at]!)![0]
  return [...directives.slice(0, at), `${before}${name} ${allowed}`, ...directives.slice(at + 1)].join(';')
}
