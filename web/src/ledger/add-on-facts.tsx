import type { ReactNode } from 'react'
import { ChevronDown } from 'lucide-react'
import type { AddOn, Site } from '@unvelt/contract'
import { useChangeAddOn } from '../add-ons/change-add-on.js'
import { PastLine } from '../add-ons/past-line.js'
import { useAddOnSheet } from '../api/queries.js'
import { plural } from '../figures/format.js'
import { Menu } from '../parts/menu.js'
import type { Picked } from './selection.js'
import type { Sheet, UseWord } from './sheet.js'
import { UseMark } from './use-mark.js'

interface FactsProps {
  site: Site
  sheet: Sheet
  addOn: AddOn
  what: Picked
  named(slug: string): string
}

const SAY: [word: string | null, words: string][] = [
  ['used', 'Needed here'],
  ['not seen', 'Not needed here'],
  ['planned', 'Planned'],
  ['works unseen', 'Works unseen'],
  [null, 'Say nothing'],
]
/** More of it than this on one page is heavy on the database. */
const MANY_QUERIES = 20

/** What is known of one add-on where it is selected: use, ties to others, how it comes in, and its past. */
export function AddOnFacts({ site, sheet, addOn, what, named }: FactsProps) {
  const { data } = useAddOnSheet(site.id, addOn.slug, sheet.ledger.sweep?.id)
  const change = useChangeAddOn(site.id)
  const payer = what.payers[0]!
  const everywhere = what.scope === 'rows'
  const pageIds = what.pages.map((page) => sheet.ledger.pages[page]!.id)
  const words = countWords(sheet, payer, what.pages)
  const [single] = what.pages.length === 1 ? pageIds : []
  const because = data?.use.find(({ pageId }) => pageId === single)
  const queries = Math.max(...what.pages.map((page) => sheet.value(payer, page, 'queries')), 0)
  const say = (word: string | null) =>
    change.sayUse(addOn, { word, ...(!everywhere && { pageIds }) }, data?.facts ?? [])
  return (
    <section aria-label="Use and ties" className="mt-3 border-t border-line pt-3 text-[13.5px]">
      <div className="flex items-start justify-between gap-2">
        <h3 className="text-[15px]">Use</h3>
        <Menu
          align="end"
          button={
            <button type="button" className="flex items-center gap-0.5 text-[13px] text-verdigris hover:underline">
              Say what you know <ChevronDown size={13} aria-hidden />
            </button>
          }
          entries={SAY.map(([word, text]) => ({
            name: everywhere ? text.replace('here', 'anywhere') : text,
            does: () => say(word),
          }))}
        />
      </div>
      <ul className="mt-1">
        {words.map(([word, pages]) => (
          <li key={word} className="flex items-center gap-2">
            <span className="flex w-3 justify-center">
              <UseMark word={word} inline />
            </span>
            {what.pages.length === 1 ? USE_SAID[word] : `${USE_SAID[word]} on ${plural(pages, 'page')}`}
          </li>
        ))}
      </ul>
      {because?.because.map((reason) => (
        <p key={reason} className="mt-0.5 ml-5 text-[12.5px] break-words text-soft">
          {reason}
        </p>
      ))}
      {because?.touches != null && (
        <p className="ml-5 text-[12.5px] text-soft">
          Visitors touched it {plural(because.touches, 'time')} in thirty days.
        </p>
      )}
      <dl className="mt-2 grid gap-1">
        <Tie name="Verdict">{addOn.verdict.verdict}</Tie>
        {addOn.needs.length > 0 && <Tie name="Needs">{addOn.needs.map(named).join(', ')}</Tie>}
        {data && data.neededBy.length > 0 && <Tie name="Needed by">{data.neededBy.map(named).join(', ')}</Tie>}
        {data && data.sameJob.length > 0 && (
          <Tie name="Same job">
            {data.sameJob.map(named).join(', ')} ({addOn.jobs.join(', ')})
          </Tie>
        )}
        {addOn.outsideHosts.length > 0 && <Tie name="Needs outsiders">{addOn.outsideHosts.join(', ')}</Tie>}
        {addOn.insertedBy && <Tie name="Put in by">{addOn.insertedBy}</Tie>}
        {queries >= MANY_QUERIES && <Tie name="Database">{plural(queries, 'query', 'queries')} on one page</Tie>}
      </dl>
      {data && data.past.length > 1 && <PastLine past={data.past} />}
    </section>
  )
}

const USE_SAID: Record<UseWord, string> = {
  used: 'In use',
  planned: 'Planned',
  'works unseen': 'Works unseen',
  'not seen': 'Not seen in use',
  unknown: 'Not known whether in use',
}

/** How many of the pages each word holds for, in the order of what is surest. */
function countWords(sheet: Sheet, payer: number, pages: readonly number[]): [UseWord, number][] {
  const counts = new Map<UseWord, number>()
  for (const page of pages) {
    const word = sheet.useOf(payer, page)
    counts.set(word, (counts.get(word) ?? 0) + 1)
  }
  return (Object.keys(USE_SAID) as UseWord[]).flatMap((word) => {
    const count = counts.get(word)
    return count ? [[word, count] as [UseWord, number]] : []
  })
}

function Tie({ name, children }: { name: string; children: ReactNode }) {
  return (
    <div className="flex gap-2">
      <dt className="w-[92px] shrink-0 text-soft">{name}</dt>
      <dd className="min-w-0 break-words">{children}</dd>
    </div>
  )
}
