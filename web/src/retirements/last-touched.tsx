import type { LeftoverView } from '@unvelt/contract'

const DAY: Intl.DateTimeFormatOptions = { day: 'numeric', month: 'short', year: 'numeric' }
const day = (iso: string) => new Date(iso).toLocaleDateString('en-GB', DAY)

/** When a leftover was last written or asked for, and whether that is reason to look at it first. */
export function LastTouched({ one }: { one: Pick<LeftoverView, 'lastWritten' | 'lastRead' | 'sureness'> }) {
  const { lastWritten, lastRead, sureness } = one
  const said = [lastWritten && `written ${day(lastWritten)}`, lastRead && `asked for ${day(lastRead)}`].filter(Boolean)
  return (
    <span className={`w-64 shrink-0 truncate text-right text-[13px] ${sureness === 'look first' ? '' : 'text-soft'}`}>
      {said.length === 0 ? 'last use not known' : said.join(', ')}
      {sureness === 'look first' && <span className="ml-1.5 font-semibold text-plum">look first</span>}
    </span>
  )
}
