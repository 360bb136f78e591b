import { useState } from 'react'
import { Link } from 'react-router'
import type { AddOnSheet, Page } from '@unvelt/contract'
import { plural } from '../figures/format.js'
import { useSite } from '../frame/site-context.js'
import type { UseWord } from '../ledger/sheet.js'
import { UseMark } from '../ledger/use-mark.js'
import { useChangeAddOn } from './change-add-on.js'

const WORDS: [word: UseWord, heading: string][] = [
  ['used', 'In use'],
  ['planned', 'Planned'],
  ['works unseen', 'Works unseen'],
  ['not seen', 'Not seen in use'],
  ['unknown', 'Not known'],
]
const FEW = 8
const SAY = [
  ['used', 'needed'],
  ['not seen', 'not needed'],
  ['planned', 'planned'],
  ['works unseen', 'works unseen'],
] as const

/** The pages by what is known of use there, with the reasons, and a word of the maintainer's own over all. */
export function UseByPage({ data, pages, sheetRead }: { data: AddOnSheet; pages: Page[]; sheetRead: boolean }) {
  const site = useSite()
  const change = useChangeAddOn(site.id)
  const [opened, setOpened] = useState<string[]>(['used', 'planned'])
  const pageOf = new Map(pages.map((page) => [page.id, page]))
  const everywhere = data.facts.find(({ source, pageId }) => source === 'hand' && pageId === null)
  const touched = data.use.reduce<number | null>(
    (sum, { touches }) => (touches === null ? sum : (sum ?? 0) + touches),
    null,
  )
  return (
    <>
      {!sheetRead && <p className="text-soft">No sweep has looked yet; this is what the site and you have told.</p>}
      {touched !== null && <p>Visitors touched it {plural(touched, 'time')} in thirty days.</p>}
      {WORDS.map(([word, heading]) => {
        const uses = data.use.filter((use) => use.word === word && pageOf.has(use.pageId))
        if (uses.length === 0) return null
        const open = opened.includes(word)
        const shown = open ? uses : []
        return (
          <div key={word} className="border-b border-line/60 py-1">
            <button
              type="button"
              aria-expanded={open}
              onClick={() => setOpened(open ? opened.filter((each) => each !== word) : [...opened, word])}
              className="flex items-center gap-2 hover:text-verdigris"
            >
              <span className="flex w-3 justify-center">
                <UseMark word={word} inline />
              </span>
              <span className="font-semibold">{heading}</span>
              <span className="figures text-soft">{plural(uses.length, 'page')}</span>
            </button>
            {shown.length > 0 && (
              <ul className={uses.length > FEW ? 'ml-5 columns-2 gap-8' : 'ml-5'}>
                {shown.map((use) => {
                  const page = pageOf.get(use.pageId)!
                  return (
                    <li key={use.pageId} className="break-inside-avoid">
                      <Link
                        className="text-verdigris underline decoration-verdigris/40 underline-offset-2 hover:decoration-verdigris"
                        to={`/sites/${site.id}/pages/${page.id}`}
                      >
                        {page.title}
                      </Link>{' '}
                      <span className="text-[12.5px] text-soft">{use.because[0] ?? ''}</span>
                    </li>
                  )
                })}
              </ul>
            )}
          </div>
        )
      })}
      <p className="mt-2 flex flex-wrap items-center gap-x-3 text-[13px]">
        <span className="text-soft">
          {everywhere
            ? `You said of all pages: ${SAY.find(([word]) => word === everywhere.word)?.[1] ?? everywhere.word}.`
            : 'You know better? Of all pages:'}
        </span>
        {SAY.map(([word, text]) => (
          <button
            key={word}
            type="button"
            disabled={change.isPending || everywhere?.word === word}
            onClick={() => change.sayUse(data.addOn, { word }, data.facts)}
            className="text-verdigris hover:underline disabled:text-soft disabled:no-underline"
          >
            {text}
          </button>
        ))}
        {everywhere && (
          <button
            type="button"
            onClick={() => change.sayUse(data.addOn, { word: null }, data.facts)}
            className="text-verdigris underline decoration-verdigris/40 underline-offset-2 hover:decoration-verdigris"
          >
            say nothing
          </button>
        )}
      </p>
    </>
  )
}
