import { useMemo, type ReactNode } from 'react'
import { Link, useParams, useSearchParams } from 'react-router'
import { MEASURES, type AddOn, type AddOnSheet, type Page } from '@unvelt/contract'
import { useAddOnSheet, useAddOns, usePages } from '../api/queries.js'
import { bytes, count, dateTime, MEASURE_WORDS, plural, span } from '../figures/format.js'
import { TollFigure } from '../figures/toll-figure.js'
import { useSite } from '../frame/site-context.js'
import { rowsOf, sentenceOfUse, type Row } from './rows.js'
import { useSheet } from '../ledger/use-sheet.js'
import { Failed, Loading } from '../parts/notice.js'
import { SOURCES } from './add-on-table.js'
import { FilesTable, PastTable } from './sheet-tables.js'
import { PeopleFacts } from './people-facts.js'
import { Questions } from './questions.js'
import { UseByPage } from './use-by-page.js'
import { StaleLine } from '../stale/stale-line.js'
import { RetireThis } from '../retirements/retire-this.js'
import { WeighedOf, WeighThis } from '../weigh-ins/weighed-of.js'
import { VerdictForm } from './verdict-form.js'

/** All that is known of one add-on, what was decided about it, and what it costs. */
export function AddOnSheetPlace() {
  const site = useSite()
  const { slug } = useParams()
  const [search] = useSearchParams()
  const asked = search.get('sweep')
  const { sheet, error: failed } = useSheet(site.id, asked)
  // Where no sweep is asked for, the server takes the one that the ledger shows; so neither waits for the other, and each is asked once.
  const { data, error, refetch } = useAddOnSheet(site.id, slug, asked === null ? undefined : Number(asked))
  const { data: all = [] } = useAddOns(site.id)
  const { data: pages = [] } = usePages(site.id)
  const row = useMemo(() => (data ? rowsOf(site.id, [data.addOn], sheet)[0]! : null), [data, sheet, site.id])
  if (error ?? failed) return <Failed error={(error ?? failed)!} retry={() => void refetch()} />
  if (!data || !row) return <Loading what="the add-on" />
  const named = (other: string) => all.find((each) => each.slug === other)?.name ?? other
  const { addOn } = data
  return (
    <div className="h-full overflow-auto">
      <header className="border-b border-line px-5 pt-4 pb-3">
        <p className="text-[13px]">
          <Link
            to={`/sites/${site.id}/add-ons`}
            className="text-verdigris underline decoration-verdigris/40 underline-offset-2 hover:decoration-verdigris"
          >
            Add-ons
          </Link>
        </p>
        <h1 className="mt-0.5 text-[24px]">{addOn.name}</h1>
        <p className="text-soft">
          {[addOn.kind, addOn.version && `version ${addOn.version}`, addOn.author, stateOf(addOn)]
            .filter(Boolean)
            .join(' · ')}
        </p>
        <p className="mt-2 max-w-3xl text-[15px]">
          {addOn.summary} {addOn.active ? sentenceOfUse(row) : 'Switched off, and still installed.'}
        </p>
        <Figures row={row} />
        <StaleLine siteId={site.id} sweepId={sheet?.ledger.sweep?.id} of={{ addOn: addOn.slug }} />
      </header>
      <div className="grid grid-cols-[minmax(0,1fr)_340px]">
        <div className="min-w-0 px-5 pb-10">
          <WeighedOf siteId={site.id} slug={addOn.slug} />
          <Use data={data} pages={pages} sheetRead={sheet?.ledger.sweep != null} />
          <Features addOn={addOn} />
          {data.loaded.length > 0 && <FilesTable files={data.loaded} addOn={addOn} />}
          {data.past.length > 0 && <PastTable past={data.past} told={row.tells('serverMs')} />}
          <OnServer addOn={addOn} />
        </div>
        <aside aria-label="Decisions" className="border-l border-line bg-sheet px-5 pt-4 pb-10">
          <VerdictForm site={site} addOn={addOn} verdicts={data.verdicts} />
          {!addOn.gone && addOn.kind !== 'theme' && addOn.kind !== 'built-in' && (
            <div className="flex gap-2">
              <WeighThis siteId={site.id} slug={addOn.slug} />
              <RetireThis siteId={site.id} slug={addOn.slug} />
            </div>
          )}
          <Questions site={site} addOn={addOn} questions={data.questions} />
          <PeopleFacts site={site} addOn={addOn} />
          <Ties data={data} named={named} />
        </aside>
      </div>
    </div>
  )
}

const stateOf = ({ gone, active, library, works }: AddOn): string =>
  gone
    ? 'gone from the site'
    : !active
      ? 'switched off'
      : library
        ? 'a library that others need'
        : works === 'unseen'
          ? 'works unseen'
          : works === 'once'
            ? 'did its work once'
            : ''

function Figures({ row }: { row: Row }) {
  return (
    <dl className="figures mt-3 flex flex-wrap gap-x-8 gap-y-2">
      {MEASURES.map((measure) => (
        <div key={measure}>
          <dt className="text-[12.5px] text-soft">{MEASURE_WORDS[measure].name}</dt>
          <dd className="text-[17px] font-semibold">
            <TollFigure measure={measure} value={row.figures[measure]} told={row.tells(measure)} />
          </dd>
        </div>
      ))}
      <div>
        <dt className="text-[12.5px] text-soft">over</dt>
        <dd className="text-[17px] font-semibold">{plural(row.pages, 'page')}</dd>
      </div>
    </dl>
  )
}

export function Part({ title, note, children }: { title: string; note?: ReactNode; children: ReactNode }) {
  return (
    <section aria-label={title} className="mt-5">
      <h2 className="text-[17px]">
        {title} {note && <span className="font-sans text-[13px] font-normal text-soft">{note}</span>}
      </h2>
      <div className="mt-1.5">{children}</div>
    </section>
  )
}

function Use({ data, pages, sheetRead }: { data: AddOnSheet; pages: Page[]; sheetRead: boolean }) {
  const used = data.use.filter(({ word }) => word === 'used').length
  return (
    <Part title="Use" note={used > 0 ? `seen on ${plural(used, 'page')}` : undefined}>
      <UseByPage data={data} pages={pages} sheetRead={sheetRead} />
    </Part>
  )
}

function Features({ addOn }: { addOn: AddOn }) {
  const { features, settings } = addOn
  if (features.length + settings.length === 0) return null
  const idle = features.filter(({ on, uses }) => on && uses === 0).length
  return (
    <Part
      title="Features"
      note={`${features.filter(({ on }) => on).length} of ${features.length} switched on${idle > 0 ? `, ${idle} of them used nowhere` : ''}`}
    >
      <table className="figures w-full max-w-2xl">
        <thead>
          <tr className="border-b border-line text-left text-[12.5px] text-soft">
            <th className="py-1 font-normal">Feature</th>
            <th className="py-1 font-normal">Switch</th>
            <th className="py-1 text-right font-normal">Used on</th>
          </tr>
        </thead>
        <tbody>
          {[...features]
            .sort(
              (a, b) => (b.uses ?? 0) - (a.uses ?? 0) || Number(b.on) - Number(a.on) || a.name.localeCompare(b.name),
            )
            .map(({ slug, name, on, uses }) => (
              <tr key={slug} className="border-b border-line/60">
                <td className="py-1">{name}</td>
                <td className="py-1">{on ? 'on' : <span className="text-soft">off</span>}</td>
                <td className="py-1 text-right">
                  {uses === undefined ? (
                    <span className="text-soft">not known</span>
                  ) : uses === 0 ? (
                    'none'
                  ) : (
                    plural(uses, 'page')
                  )}
                </td>
              </tr>
            ))}
          {settings.map(({ slug, name, value, least, most }) => (
            <tr key={slug} className="border-b border-line/60">
              <td className="py-1">{name}</td>
              <td className="py-1">
                {value}{' '}
                <span className="text-soft">
                  ({least}–{most})
                </span>
              </td>
              <td />
            </tr>
          ))}
        </tbody>
      </table>
    </Part>
  )
}

function OnServer({ addOn }: { addOn: AddOn }) {
  const { tables, tasks } = addOn
  if (tables.length + tasks.length === 0) return null
  return (
    <Part title="On the server">
      {tables.length > 0 && (
        <table className="figures w-full max-w-2xl">
          <thead>
            <tr className="border-b border-line text-left text-[12.5px] text-soft">
              <th className="py-1 font-normal">Table</th>
              <th className="py-1 text-right font-normal">Rows</th>
              <th className="py-1 text-right font-normal">Size</th>
              <th className="py-1 text-right font-normal">Would come back</th>
            </tr>
          </thead>
          <tbody>
            {tables.map((table) => (
              <tr key={table.name} className="border-b border-line/60">
                <td className="py-1">{table.name}</td>
                <td className="py-1 text-right">{count(table.rows)}</td>
                <td className="py-1 text-right">{bytes(table.bytes)}</td>
                <td className="py-1 text-right">{table.reclaimableBytes ? bytes(table.reclaimableBytes) : '·'}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {tasks.map(({ name, everySeconds }) => (
        <p key={name} className="mt-1.5">
          Scheduled task {name}, every {span(everySeconds)}.
        </p>
      ))}
    </Part>
  )
}

function Ties({ data, named }: { data: AddOnSheet; named(slug: string): string }) {
  const site = useSite()
  const { addOn, neededBy, sameJob } = data
  const links = (slugs: string[]) =>
    slugs.map((slug, index) => (
      <span key={slug}>
        {index > 0 && ', '}
        <Link
          className="text-verdigris underline decoration-verdigris/40 underline-offset-2 hover:decoration-verdigris"
          to={`/sites/${site.id}/add-ons/${encodeURIComponent(slug)}`}
        >
          {named(slug)}
        </Link>
      </span>
    ))
  const facts: [string, ReactNode][] = [
    ['Needs', addOn.needs.length > 0 && links(addOn.needs)],
    ['Needed by', neededBy.length > 0 && links(neededBy)],
    ['Same job as', sameJob.length > 0 && links(sameJob)],
    ['Outside hosts', addOn.outsideHosts.join(', ')],
    ['Put in by', addOn.insertedBy],
    ['Blocks', addOn.blocks.join(', ')],
    ['Installed', addOn.since && dateTime(addOn.since)],
    ['Versions', addOn.versions.length > 1 && addOn.versions.join(', ')],
    ['Known from', SOURCES[addOn.source] ?? addOn.source],
  ]
  return (
    <section aria-label="Ties" className="mt-6 border-t border-line pt-4">
      <h2 className="text-[17px]">Ties</h2>
      <dl className="mt-2 grid grid-cols-[96px_1fr] gap-x-2 gap-y-1">
        {facts
          .filter(([, value]) => value)
          .map(([name, value]) => (
            <div key={name} className="contents">
              <dt className="text-soft">{name}</dt>
              <dd className="min-w-0 break-words">{value}</dd>
            </div>
          ))}
      </dl>
    </section>
  )
}
