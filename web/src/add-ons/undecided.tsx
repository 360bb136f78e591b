import clsx from 'clsx'
import { useLayoutEffect, useRef, useState, type KeyboardEvent } from 'react'
import { Link } from 'react-router'
import { MEASURES, type VerdictWord } from '@unvelt/contract'
import { MEASURE_WORDS } from '../figures/format.js'
import { useSite } from '../frame/site-context.js'
import { Notice } from '../parts/notice.js'
import { rememberedWho, useChangeAddOn } from './change-add-on.js'
import { sentenceOfUse, type Row } from './rows.js'

const VERDICT_KEYS: [key: string, verdict: VerdictWord, means: string][] = [
  ['k', 'keep', 'it stays as it is'],
  ['c', 'confine', 'only on pages that need it'],
  ['h', 'hold', 'later, not with the page'],
  ['r', 'replace', 'by something lighter'],
  ['t', 'retire', 'take it off the site'],
  ['a', 'ask', 'somebody else knows'],
]

/** The undecided, one after the other, from the keyboard: a letter is a verdict, Enter gives the reason and goes on. */
export function Undecided({ rows: all }: { rows: Row[] }) {
  const site = useSite()
  const change = useChangeAddOn(site.id)
  // What was just decided goes at once; the list follows when the server has answered.
  const [leaving, setLeaving] = useState<ReadonlySet<string>>(new Set())
  const waiting = new Set([...leaving].filter((slug) => all.some((row) => row.slug === slug)))
  // Once the list has followed, one that is taken back may come in again.
  if (waiting.size !== leaving.size) setLeaving(waiting)
  const rows = all.filter(({ slug }) => !leaving.has(slug))
  const [at, setAt] = useState(0)
  const [verdict, setVerdict] = useState<VerdictWord | null>(null)
  const [why, setWhy] = useState('')
  const [who, setWho] = useState(rememberedWho)
  const list = useRef<HTMLUListElement>(null)
  const reason = useRef<HTMLInputElement>(null)
  const row = rows[Math.min(at, rows.length - 1)]
  // Before the next key can come.
  useLayoutEffect(() => {
    if (verdict) reason.current?.focus()
    else list.current?.focus()
  }, [verdict, row?.slug])
  if (!row)
    return <Notice title="Everything has been decided">New add-ons come here as soon as a sweep has found them.</Notice>

  const move = (step: number) => {
    const next = Math.max(0, Math.min(rows.length - 1, at + step))
    setAt(next)
    list.current?.children[next]?.scrollIntoView({ block: 'nearest' })
  }
  const onKey = (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return
    const chosen = VERDICT_KEYS.find(([key]) => key === event.key.toLowerCase())
    if (event.key === 'ArrowDown') move(1)
    else if (event.key === 'ArrowUp') move(-1)
    else if (chosen) setVerdict(chosen[1])
    else return
    event.preventDefault()
  }
  const settle = () => {
    if (!verdict) return
    const { slug } = row
    setLeaving((old) => new Set(old).add(slug))
    setVerdict(null)
    setWhy('')
    change.decide(row, { verdict, why: why.trim(), who: who.trim() }, (well) => {
      if (!well) setLeaving((old) => new Set([...old].filter((each) => each !== slug)))
    })
  }
  return (
    <div className="grid h-full grid-cols-[300px_minmax(0,1fr)]">
      <ul
        ref={list}
        role="listbox"
        aria-label="Undecided add-ons"
        aria-activedescendant={`undecided-${row.slug}`}
        tabIndex={0}
        onKeyDown={onKey}
        className="h-full overflow-auto border-r border-line outline-none focus-visible:outline-none"
      >
        {rows.map((each, index) => (
          <li
            key={each.slug}
            id={`undecided-${each.slug}`}
            role="option"
            aria-selected={each === row}
            onClick={() => {
              setVerdict(null)
              setAt(index)
            }}
            className={clsx(
              'flex cursor-pointer justify-between gap-3 border-b border-l-2 border-b-line/60 px-4 py-1.5',
              each === row ? 'border-l-verdigris bg-sheet font-semibold' : 'border-l-transparent',
            )}
          >
            <span className="truncate">{each.name}</span>
            <span className="figures shrink-0 font-normal text-soft">
              {MEASURE_WORDS.decodedBytes.long(each.figures.decodedBytes)}
            </span>
          </li>
        ))}
      </ul>
      <section aria-label={row.name} className="overflow-auto px-6 py-4">
        <h2 className="text-[20px]">{row.name}</h2>
        <p className="text-soft">{[row.kind, row.version, row.author, row.summary].filter(Boolean).join(' · ')}</p>
        <p className="mt-3 text-[15px]">
          {row.active ? sentenceOfUse(row) : 'Switched off, and still installed.'}
          {row.jobs.length > 0 && ` Its job: ${row.jobs.join(', ')}.`}
        </p>
        <dl className="figures mt-3 grid max-w-xl grid-cols-4 gap-x-6 gap-y-2">
          {MEASURES.map((measure) => (
            <div key={measure}>
              <dt className="text-[12.5px] text-soft">{MEASURE_WORDS[measure].name}</dt>
              <dd className="font-semibold">{MEASURE_WORDS[measure].long(row.figures[measure])}</dd>
            </div>
          ))}
        </dl>
        <p className="mt-2 text-[13px]">
          <Link
            className="text-verdigris hover:underline"
            to={`/sites/${site.id}/add-ons/${encodeURIComponent(row.slug)}`}
          >
            All that is known of it
          </Link>
        </p>
        <div role="radiogroup" aria-label="Verdict" className="mt-5 grid max-w-xl grid-cols-3 gap-2">
          {VERDICT_KEYS.map(([key, word, means]) => (
            <button
              key={word}
              type="button"
              role="radio"
              aria-checked={verdict === word}
              onClick={() => setVerdict(word)}
              className={clsx(
                'border px-3 py-1.5 text-left',
                verdict === word ? 'border-verdigris bg-wash' : 'border-line hover:border-verdigris',
              )}
            >
              <span className="flex justify-between font-semibold">
                {word} <kbd className="font-sans text-[12.5px] font-normal text-soft">{key.toUpperCase()}</kbd>
              </span>
              <span className="block text-[12.5px] text-soft">{means}</span>
            </button>
          ))}
        </div>
        <form
          className="mt-4 grid max-w-xl grid-cols-[minmax(0,1fr)_160px_auto] items-end gap-2"
          onSubmit={(event) => {
            event.preventDefault()
            settle()
          }}
        >
          <label className="grid gap-1 text-[13px]">
            Why
            <input
              ref={reason}
              value={why}
              disabled={!verdict}
              onChange={(event) => setWhy(event.target.value)}
              onKeyDown={(event) => event.key === 'Escape' && setVerdict(null)}
              className="h-9 border border-line bg-sheet px-2 text-[15px] disabled:bg-paper"
              placeholder={verdict ? 'A reason for later readers' : 'Press a letter first'}
            />
          </label>
          <label className="grid gap-1 text-[13px]">
            Who decides
            <input
              value={who}
              onChange={(event) => setWho(event.target.value)}
              className="h-9 w-full min-w-0 border border-line bg-sheet px-2 text-[15px]"
            />
          </label>
          <button
            type="submit"
            disabled={!verdict}
            className="h-9 border border-verdigris bg-verdigris px-4 font-medium text-on-verdigris disabled:opacity-45"
          >
            Decide
          </button>
        </form>
        <p className="mt-3 text-[12.5px] text-soft">
          Arrows choose, a letter gives the verdict, Enter decides and goes on, Ctrl Z takes it back.
        </p>
      </section>
    </div>
  )
}
