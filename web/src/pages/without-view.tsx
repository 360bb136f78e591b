import { useState } from 'react'
import { WITHOUT_REPEATS, type Without } from '@unvelt/contract'
import { useReadWithout, useWithout } from '../api/queries.js'
import { dateTime, plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { Failed, Loading } from '../parts/notice.js'
import { toast } from '../parts/toast.js'
import { FigureRow } from '../proof/figure-row.js'

interface Props {
  siteId: number
  pageId: number
  names: Map<string, string>
}

/** What the page would be without its outsiders, or without some: read with and without them, in turn. */
export function WithoutTab({ siteId, pageId, names }: Props) {
  const without = useWithout(siteId, pageId)
  const read = useReadWithout(siteId, pageId)
  const [chosen, setChosen] = useState('')
  if (without.isError) return <Failed error={without.error} retry={() => void without.refetch()} />
  if (!without.data) return <Loading what="what was read" />
  const { groups, taken } = without.data
  const name = (payer: string) => names.get(payer) ?? payer
  const underWay = taken.find((each) => each.underWay > 0)
  const start = () =>
    read.mutate(chosen === '' ? {} : { payers: [chosen] }, { onError: (error) => toast.error(error.message) })
  if (groups.length === 0) return <p className="px-4 py-4 text-soft">Nothing on this page comes from outside.</p>
  return (
    <div className="px-4 py-4">
      <p className="max-w-3xl text-soft">
        Reads the page {WITHOUT_REPEATS} times as it is and {WITHOUT_REPEATS} times with requests to the chosen hosts
        refused, in turn, past the site’s caches. It shows what they cost, not what a rule would do.
      </p>
      <div className="mt-3 flex items-end gap-4">
        <label className="grid gap-1">
          <span className="font-semibold">Leave out</span>
          <select
            value={chosen}
            onChange={(event) => setChosen(event.target.value)}
            className="h-9 border border-line bg-sheet px-2"
          >
            <option value="">All outsiders</option>
            {groups.map(({ payer, hosts, requests }) => (
              <option key={payer} value={payer}>
                {name(payer)}: {plural(requests, 'request')} to {plural(hosts.length, 'host')}
              </option>
            ))}
          </select>
        </label>
        <Button weight="main" disabled={underWay !== undefined || read.isPending} onClick={start}>
          {underWay ? `${plural(underWay.underWay, 'reading')} to come` : 'Read with and without'}
        </Button>
      </div>
      {taken.map((each) => (
        <Taken key={each.id} without={each} name={name} />
      ))}
    </div>
  )
}

function Taken({ without, name }: { without: Without; name: (payer: string) => string }) {
  const { payers, hosts, takenAt, figures, underWay, failure, complaints } = without
  const what = payers.length === 0 ? 'all outsiders' : payers.map(name).join(', ')
  return (
    <section aria-label={`Without ${what}`} className="mt-6 border-t border-line pt-3">
      <h2 className="text-[17px]">Without {what}</h2>
      <p className="text-[13px] text-soft">
        {dateTime(takenAt)}. {plural(hosts.length, 'host')}: {hosts.slice(0, 6).join(', ')}
        {hosts.length > 6 && ` and ${hosts.length - 6} more`}.
      </p>
      {failure && <p className="mt-1 text-plum">{failure}</p>}
      <table className="figures mt-2 w-full">
        <thead>
          <tr className="border-b border-line text-soft">
            <th className="py-1 text-left font-normal">Measure</th>
            <th className="py-1 text-right font-normal">With</th>
            <th className="py-1 text-right font-normal">Without</th>
            <th className="py-1 text-right font-normal">Difference</th>
            <th className="py-1 pl-6 text-left font-normal">95 % interval</th>
            <th className="py-1 pl-6 text-left font-normal">Readings</th>
            <th className="py-1 pl-6 text-left font-normal">In a word</th>
          </tr>
        </thead>
        <tbody>
          {Object.entries(figures).map(([measure, figure]) => (
            <FigureRow key={measure} measure={measure} figure={figure} running={underWay > 0} />
          ))}
        </tbody>
      </table>
      {complaints.length > 0 && (
        <div className="mt-2 text-[13px]">
          <p className="font-semibold">The page complains without them:</p>
          <ul className="text-soft">
            {complaints.slice(0, 8).map((text) => (
              <li key={text} className="break-words">
                {text}
              </li>
            ))}
          </ul>
        </div>
      )}
    </section>
  )
}
