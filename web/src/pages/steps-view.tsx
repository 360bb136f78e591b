import type { PageSheet, StepView } from '@unvelt/contract'
import { bytes, count, plural } from '../figures/format.js'
import { Notice } from '../parts/notice.js'
import { address } from './request-list.js'

/** What came after the timing: what each step brought, whose it was, and which idle bytes turned out to be needed. */
export function StepsView({ sheet, names }: { sheet: PageSheet; names: Map<string, string> }) {
  const { steps, neededLater, companions } = sheet
  if (steps.length === 0)
    return (
      <Notice title="No steps were taken on this page">
        The first repeat of a sweep takes them, once the page has fallen quiet.
      </Notice>
    )
  const later = Object.entries(neededLater).sort((a, b) => b[1] - a[1])
  const sum = later.reduce((total, [, size]) => total + size, 0)
  return (
    <div className="grid gap-x-12 gap-y-6 px-4 py-4 xl:grid-cols-[3fr_2fr]">
      <section aria-label="Steps">
        <p className="text-soft">
          Done once the timing was over, so none of it counts in the load. A step is something that visitors do.
        </p>
        <ol className="mt-3 border-t border-line">
          {steps.map((step) => (
            <li key={step.name} className="border-b border-line/60 py-2">
              <div className="flex items-baseline justify-between gap-4">
                <h3 className="font-semibold">{step.name}</h3>
                <p className="figures text-soft">{outcomeWords(step)}</p>
              </div>
              <Brought step={step} names={names} />
            </li>
          ))}
        </ol>
      </section>
      <section aria-label="Needed later">
        <h2 className="text-[17px]">Needed later</h2>
        <p className="text-soft">
          {sum === 0
            ? 'Nothing that lay idle in the load was needed by a step.'
            : `${bytes(sum)} that lay idle in the load, or came only then, were used by the end of the steps. They are not to be taken for useless.`}
        </p>
        <table className="figures mt-3 w-full" aria-label="Needed later, by payer">
          <tbody>
            {later.map(([payer, size]) => (
              <tr key={payer} className="border-b border-line/60">
                <th className="py-1.5 text-left font-normal">{names.get(payer) ?? payer}</th>
                <td className="text-right">{bytes(size)}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <ElementTable sheet={sheet} names={names} />
        {companions.length > 0 && (
          <>
            <h2 className="mt-6 text-[17px]">Beside the page</h2>
            <ul className="mt-1">
              {companions.map(({ kind, url }) => (
                <li key={kind + url} className="border-b border-line/60 py-1 break-all">
                  <span className="text-soft">{kind}</span> {url}
                </li>
              ))}
            </ul>
          </>
        )}
      </section>
    </div>
  )
}

/** Whose the page's elements are, as it stood before the steps. */
function ElementTable({ sheet, names }: { sheet: PageSheet; names: Map<string, string> }) {
  const { elementsBy, writersTold } = sheet
  const rows = [...elementsBy].sort((a, b) => b.written + b.made - a.written - a.made)
  if (rows.length === 0) return null
  const sum = (of: 'written' | 'made') => rows.reduce((all, row) => all + row[of], 0)
  return (
    <>
      <h2 className="mt-6 text-[17px]">Who made the elements</h2>
      <p className="text-soft">
        {plural(sum('written') + sum('made'), 'DOM element')}: {count(sum('written'))} came with the HTML,{' '}
        {count(sum('made'))} were made in the browser.
        {!writersTold && ' The site does not tell which add-on wrote what, so all of the HTML is the page’s own.'}
      </p>
      <table className="figures mt-2 w-full" aria-label="DOM elements, by payer">
        <thead>
          <tr className="border-b border-line text-left text-[13px] text-soft">
            <th className="py-1 font-normal">Payer</th>
            <th className="py-1 pl-4 text-right font-normal">In the HTML</th>
            <th className="py-1 pl-4 text-right font-normal">In the browser</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(({ payer, written, made }) => (
            <tr key={payer} className="border-b border-line/60">
              <th className="py-1.5 text-left font-normal">
                {payer === 'content' ? 'The page itself' : (names.get(payer) ?? payer)}
              </th>
              <td className="text-right">{written === 0 ? '–' : count(written)}</td>
              <td className="text-right">{made === 0 ? '–' : count(made)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  )
}

function outcomeWords({ outcome, why, requests }: StepView): string {
  if (outcome === 'not there') return 'nothing of the kind on this page'
  if (outcome === 'failed') return `failed: ${why}`
  const size = requests.reduce((sum, request) => sum + request.transferBytes, 0)
  return requests.length === 0 ? 'no requests' : `${plural(requests.length, 'request')}, ${bytes(size)}`
}

const MOST_LISTED = 12

function Brought({ step, names }: { step: StepView; names: Map<string, string> }) {
  if (step.requests.length === 0) return null
  const listed = [...step.requests].sort((a, b) => b.transferBytes - a.transferBytes).slice(0, MOST_LISTED)
  const more = step.requests.length - listed.length
  return (
    <ul className="mt-1 text-[13px]">
      {listed.map(({ url, payer, transferBytes }, index) => (
        <li key={index} className="flex gap-4 py-0.5">
          <span className="min-w-0 flex-1 truncate" title={url}>
            {address(url).file} <span className="text-soft">{address(url).host}</span>
          </span>
          <span className="w-40 truncate text-soft">{names.get(payer) ?? payer}</span>
          <span className="figures w-20 text-right">{bytes(transferBytes)}</span>
        </li>
      ))}
      {more > 0 && <li className="text-soft">and {more} more</li>}
    </ul>
  )
}
