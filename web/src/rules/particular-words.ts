import type { RuleView } from '@unvelt/contract'
import { plural } from '../figures/format.js'

/** What a rule says beside its effect, in a few words; empty for most. */
export function particularWords({ copy, fonts, hosts, ask, ahead }: RuleView): string {
  if (ahead) return 'announced by a link'
  if (copy?.content !== undefined) return 'as long as the file is what it was made from'
  if (copy)
    return [
      copy.refreshDays !== undefined && `fetched anew every ${plural(copy.refreshDays, 'day')}`,
      copy.licence !== undefined && `may be copied: ${copy.licence}`,
    ]
      .filter(Boolean)
      .join('; ')
  if (fonts) return fonts.map(standInWords).join('; ')
  if (hosts) return hosts.map(({ origin, cors, nameOnly }) => `${new URL(origin).host}${nameOnly ? ' (name only)' : cors ? ' (fonts)' : ''}`).join(', ') // prettier-ignore
  return ask?.words ?? ''
}

/** Which font of the system stands in for a face, and how it is fitted. */
export const standInWords = ({ family, weight, style, local, size }: NonNullable<RuleView['fonts']>[number]): string =>
  `${family}${weight === undefined ? '' : ` ${weight}`}${style === 'italic' ? ' italic' : ''} by ${local[0]} at ${Math.round(size)} %`

type Hosts = NonNullable<RuleView['hosts']>

/** Hosts as lines of text: an origin, and behind it what is particular about it. */
export const hostLines = (hosts: Hosts = []): string =>
  hosts
    .map(({ origin, cors, nameOnly }) => [origin, cors && 'fonts', nameOnly && 'name'].filter(Boolean).join(' '))
    .join('\n')

/** The hosts that lines of text name. @throws Error that says which line is none. */
export function hostsIn(text: string): Hosts {
  return text
    .split('\n')
    .map((line) => line.trim())
    .filter((line) => line !== '')
    .map((line) => {
      const [address, ...more] = line.split(/\s+/) as [string, ...string[]]
      const isKnown = more.every((word) => word === 'fonts' || word === 'name')
      if (!/^https?:\/\//i.test(address) || !URL.canParse(address) || !isKnown)
        throw new Error(`Expected an address such as https://host.example, and fonts or name behind it: ${line}`)
      return {
        origin: new URL(address).origin,
        ...(more.includes('fonts') && { cors: true }),
        ...(more.includes('name') && { nameOnly: true }),
      }
    })
}
