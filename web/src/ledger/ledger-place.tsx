import { useEffect, useMemo, useRef, useState } from 'react'
import { useSearchParams } from 'react-router'
import type { AddOn, Effect, LedgerPayer, PageSet, RuleInput, Site } from '@unvelt/contract'
import { useAddOns } from '../api/queries.js'
import { MEASURE_WORDS, plural } from '../figures/format.js'
import { useSite } from '../frame/site-context.js'
import { Failed, Loading, Notice } from '../parts/notice.js'
import { useAddress } from '../parts/use-address.js'
import { useDraft } from '../rules/use-draft.js'
import { rememberSite } from '../sites/first-site.js'
import { tableText } from './copy-table.js'
import { FailedReadings, NoSweep } from './no-sweep.js'
import { figureWords } from './figure-words.js'
import { Hints } from './hints.js'
import { KeysHelp } from './keys-help.js'
import { LedgerGrid } from './ledger-grid.js'
import { columnsOf, linesOf, type Line } from './lines.js'
import { usePageSets } from '../api/page-sets.js'
import { withSetNames } from '../page-sets/named-place.js'
import { lazily } from '../parts/lazily.js'
import { toast } from '../parts/toast.js'
import { onlyHereRules, picked, rulesFor, selectionOf, selectionText, type Selection } from './selection.js'
import type { Sheet } from './sheet.js'
import { Toolbar } from './toolbar.js'
import { useDetails, useSheet } from './use-sheet.js'
import { addressOf, NO_FILTERS, viewOf, type View } from './view-state.js'
import { useAddUpAhead } from './add-up-ahead.js'
import { Weighed } from './weighing.js'
import { useKeysAnywhere } from './use-keys-anywhere.js'

const Particulars = lazily(async () => (await import('./particulars.js')).Particulars)
const FarView = lazily(async () => (await import('./far/far-view.js')).FarView)

const ANYWHERE = ['?', '/']

/** The ledger with its particulars. What it shows lives in the address. */
export function LedgerPlace() {
  const site = useSite()
  const [search] = useSearchParams()
  const { ledger, cells, sheet, error } = useSheet(site.id, search.get('sweep'))
  useEffect(() => rememberSite(site.id), [site.id])
  if (error) return <Failed error={error} retry={() => void Promise.all([ledger.refetch(), cells.refetch()])} />
  if (ledger.data && !ledger.data.sweep) return <NoSweep site={site} />
  if (!sheet) return <Loading what="the ledger" />
  return <LedgerOf site={site} sheet={sheet} />
}

/** What is written on leaving a rectangle; a drag passes over many before it rests. */
const REST_MS = 250

function LedgerOf({ site, sheet }: { site: Site; sheet: Sheet }) {
  const [search, write] = useAddress()
  const view = useMemo(() => viewOf(search), [search])
  const change = (part: Partial<View>) => write((old) => addressOf(part, old))
  const { data: addOns = [] } = useAddOns(site.id)
  const bySlug = useMemo(() => new Map(addOns.map((addOn) => [addOn.slug, addOn])), [addOns])
  useAddUpAhead(sheet)
  const details = useDetails(site.id, sheet.ledger.sweep?.id, [...view.opened])
  const weighed = useMemo(() => new Weighed(sheet, view.measure, view.basis), [sheet, view.measure, view.basis])
  const words = useMemo(() => figureWords(view.measure, view.basis), [view.measure, view.basis])
  const columns = useMemo(() => columnsOf(sheet, view.folded), [sheet, view.folded])
  const lines = useMemo(() => linesOf(weighed, view, { addOns: bySlug, details }), [weighed, view, bySlug, details])

  const [selection, setSelection] = useSelection(search.get('sel'), write, lines, columns)
  const [help, setHelp] = useState(false)
  const draft = useDraft(site.id)
  const what = useMemo(() => (selection ? picked(selection, lines, columns) : null), [selection, lines, columns])
  const { data: sets = NO_SETS } = usePageSets(site.id)
  const strongest = useMemo(() => strongestEffect(site, bySlug), [site, bySlug])
  const acts = useMemo(() => {
    if (!what) return NO_ACTS
    const takesFound = !site.hasConnector
    const named = (rules: RuleInput[]) => withSetNames(rules, sets)
    return {
      leaveOut: named(rulesFor(sheet, what, strongest, takesFound)),
      onlyHere: named(onlyHereRules(sheet, what, strongest, takesFound)),
      hold: named(rulesFor(sheet, what, () => 'hold', takesFound)),
      keep: named(rulesFor(sheet, what, () => 'keep', takesFound)),
    }
  }, [sheet, what, strongest, site.hasConnector, sets])
  const act = (name: keyof Acts) => {
    if (acts[name].length > 0) draft.add(acts[name])
    else if (what) toast(name === 'onlyHere' ? 'Select the pages where it is to stay.' : 'No rule can be about this.')
  }

  const toggle = (set: ReadonlySet<string>, key: string) => {
    const next = new Set(set)
    if (!next.delete(key)) next.add(key)
    return next
  }
  const foldLine = (line: Line) => {
    if (line.type === 'group') change({ folded: toggle(view.folded, `row:${line.name}`) })
    else if (line.type === 'payer') change({ opened: toggle(view.opened, line.payer.slug) })
  }
  const foldKind = (kind: string) => change({ folded: toggle(view.folded, kind) })
  const kinds = [...new Set(sheet.ledger.pages.map(({ kind }) => kind))]
  const allFolded = kinds.every((kind) => view.folded.has(kind))
  const foldAll = () =>
    change({
      folded: new Set([...[...view.folded].filter((key) => key.startsWith('row:')), ...(allFolded ? [] : kinds)]),
    })

  const copy = () => {
    if (!what) return
    void navigator.clipboard.writeText(tableText(weighed, what.lines, what.columns)).then(
      () => toast(`Copied ${plural(what.lines.length, 'row')} of ${plural(what.columns.length, 'column')}`),
      () => toast.error('The browser did not let this be copied.'),
    )
  }
  const onKey = (key: string): boolean => {
    const does: Record<string, () => void> = {
      l: () => act('leaveOut'),
      o: () => act('onlyHere'),
      h: () => act('hold'),
      e: () => act('keep'),
      copy,
      v: () => change({ far: !view.far }),
      '/': () => document.getElementById('ledger-filter')?.focus(),
      '?': () => setHelp(true),
    }
    const found = does[key] ?? does[key.toLowerCase()]
    found?.()
    return found !== undefined
  }
  useKeysAnywhere(ANYWHERE, onKey)
  const shownPayers = new Set(
    lines.flatMap((line) => (line.type === 'payer' ? line.payers : line.type === 'group' ? line.payers : [])),
  )
  return (
    <div className="grid h-full grid-cols-[minmax(0,1fr)_316px] max-md:grid-cols-[minmax(0,1fr)] max-md:grid-rows-[minmax(0,1fr)_auto]">
      <section className="flex min-h-0 min-w-0 flex-col" aria-label="Ledger">
        <h1 className="sr-only">Ledger of {site.name}</h1>
        <Toolbar
          view={view}
          onChange={change}
          hidden={sheet.ledger.payers.length - shownPayers.size}
          allFolded={allFolded}
          onFoldAll={foldAll}
        />
        <FailedReadings site={site} sweep={sheet.ledger.sweep!} />
        {view.basis === 'visits' && weighed.unvisited > 0 && (
          <p className="border-b border-line px-4 py-1 text-[12.5px] text-soft">
            {plural(weighed.unvisited, 'page')} without known page views count as unvisited.
          </p>
        )}
        {weighed.toCome > 0 && (
          <p className="border-b border-line px-4 py-1 text-[12.5px] text-soft">
            Times come in once every page has been read: {plural(weighed.toCome, 'page')}{' '}
            {weighed.toCome === 1 ? 'has' : 'have'} none yet.
          </p>
        )}
        {!weighed.told && (
          <p className="border-b border-line px-4 py-1 text-[12.5px] text-soft">
            {site.name} doesn’t tell what its server does, so there is no{' '}
            {MEASURE_WORDS[view.measure].name.toLowerCase()} to show.
          </p>
        )}
        <div className="min-h-0 flex-1">
          {lines.length === 0 ? (
            <Notice
              title="No add-on is like that"
              action={
                <button type="button" className="text-verdigris underline" onClick={() => change(NO_FILTERS)}>
                  Show all
                </button>
              }
            >
              Nothing of this site passes the filters in {MEASURE_WORDS[view.measure].name.toLowerCase()}.
            </Notice>
          ) : view.far ? (
            <FarView
              weighed={weighed}
              words={words}
              lines={lines}
              columns={columns}
              selection={selection}
              onSelect={setSelection}
              onClose={() => change({ far: false })}
              onKey={onKey}
            />
          ) : (
            <LedgerGrid
              weighed={weighed}
              words={words}
              lines={lines}
              columns={columns}
              sort={view.sort}
              selection={selection}
              onSelect={setSelection}
              onFoldLine={foldLine}
              onFoldKind={foldKind}
              onSort={(sort) => change({ sort })}
              onKey={onKey}
            />
          )}
        </div>
      </section>
      <aside
        aria-label="Particulars"
        className="min-h-0 border-l border-line bg-sheet max-md:max-h-[35dvh] max-md:overflow-auto max-md:border-t max-md:border-l-0"
      >
        {what ? (
          <Particulars
            site={site}
            sheet={sheet}
            addOns={bySlug}
            what={what}
            acts={acts}
            onAct={act}
            onSort={(sort) => change({ sort })}
          />
        ) : (
          <Hints onHelp={() => setHelp(true)} />
        )}
      </aside>
      {help && <KeysHelp onClose={() => setHelp(false)} />}
    </div>
  )
}

export interface Acts {
  leaveOut: RuleInput[]
  onlyHere: RuleInput[]
  hold: RuleInput[]
  keep: RuleInput[]
}
const NO_SETS: PageSet[] = []
const NO_ACTS: Acts = { leaveOut: [], onlyHere: [], hold: [], keep: [] }

/** The selection moves at once; the address follows when it rests, and a changed order moves it to where it stands now. */
function useSelection(
  asked: string | null,
  write: ReturnType<typeof useAddress>[1],
  lines: readonly Line[],
  columns: ReturnType<typeof columnsOf>,
) {
  const [text, setText] = useState(asked)
  const [known, setKnown] = useState(asked)
  const [written, setWritten] = useState(asked)
  // An address that somebody else changed (back, a link) says what is selected; our own comes later than what it is about.
  if (asked !== known) {
    setKnown(asked)
    if (asked !== written) setText(asked)
  }
  const selection = useMemo(() => selectionOf(text, lines, columns), [text, lines, columns])
  const rest = useRef<ReturnType<typeof setTimeout>>(undefined)
  useEffect(() => () => clearTimeout(rest.current), [])
  const select = (next: Selection | null) => {
    const said = next && selectionText(next, lines, columns)
    setText(said)
    clearTimeout(rest.current)
    rest.current = setTimeout(() => {
      setWritten(said)
      write((changed) => {
        if (said) changed.set('sel', said)
        else changed.delete('sel')
        return changed
      })
    }, REST_MS)
  }
  return [selection, select] as const
}

/** Leaving out means the most the site can do: not running the add-on, or else keeping its files out. */
function strongestEffect(site: Site, addOns: ReadonlyMap<string, AddOn>): (payer: LedgerPayer) => Effect {
  return ({ slug }) => (site.effects.includes('skip') && addOns.get(slug)?.canSkip ? 'skip' : 'leave-out')
}
