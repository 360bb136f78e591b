import { DEFAULT_SERVER_READINGS, type ServerGroupView } from '@unvelt/contract'
import { useAskServer, useServerReadings } from '../api/queries.js'
import { bytes, dateTime, milliseconds, plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { Failed } from '../parts/notice.js'
import { toast } from '../parts/toast.js'

interface Props {
  siteId: number
  pageId: number
  names: Map<string, string>
}

/** The page asked for again and again without a browser: made afresh, and out of the site's caches. */
export function ServerReadingsPart({ siteId, pageId, names }: Props) {
  const readings = useServerReadings(siteId, pageId)
  const ask = useAskServer(siteId, pageId)
  if (readings.isError) return <Failed error={readings.error} retry={() => void readings.refetch()} />
  if (!readings.data) return null
  const { underWay, takenAt, fresh, kept, keptBecause, failed, failure } = readings.data
  return (
    <section aria-label="Asked without a browser" className="border-b border-line px-4 py-4">
      <div className="flex items-start justify-between gap-8">
        <div>
          <h2 className="text-[17px]">Asked without a browser</h2>
          <p className="text-soft">
            {fresh || kept
              ? `The page’s HTML alone, ${takenAt ? dateTime(takenAt) : 'under way'}. Answers made afresh and copies that a cache had kept are never averaged.`
              : `Asks the site for this page’s HTML ${DEFAULT_SERVER_READINGS} times past its caches and ${DEFAULT_SERVER_READINGS} times with them, in turn.`}
          </p>
        </div>
        <Button
          disabled={underWay > 0 || ask.isPending}
          onClick={() => ask.mutate(undefined, { onError: (error) => toast.error(error.message) })}
        >
          {underWay > 0 ? `${plural(underWay, 'request')} to come` : `Ask ${2 * DEFAULT_SERVER_READINGS} times`}
        </Button>
      </div>
      {failure && <p className="mt-2 text-plum">{failure}</p>}
      {(fresh || kept) && (
        <table className="figures mt-3 w-full max-w-3xl" aria-label="Answers">
          <thead>
            <tr className="border-b border-line text-soft">
              <th className="py-1 text-left font-normal">Answers</th>
              {['Number', 'First byte', 'Least to most', 'Site’s own work', 'Host and network', 'Size'].map((head) => (
                <th key={head} className="py-1 text-right font-normal">
                  {head}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {fresh && <Group name="made afresh" group={fresh} />}
            {kept && <Group name="kept copies" group={kept} />}
          </tbody>
        </table>
      )}
      {(fresh || kept) && (
        <p className="mt-2 text-[13px] text-soft">
          {fresh && fresh.payers.length > 0 && mostWork(fresh, names)}
          {keptBecause && ` Told to be copies since ${keptBecause}.`}
          {!kept && underWay === 0 && ' No answer was a kept copy.'}
          {failed > 0 && ` ${plural(failed, 'request')} got no page.`}
        </p>
      )}
    </section>
  )
}

function Group({ name, group }: { name: string; group: ServerGroupView }) {
  const known = (ms: number | null) => (ms === null ? '–' : milliseconds(ms))
  const { firstByte } = group
  return (
    <tr className="border-b border-line/60">
      <th className="py-1.5 text-left font-semibold">{name}</th>
      <td className="text-right">{firstByte.count}</td>
      <td className="text-right font-semibold">{milliseconds(firstByte.median)}</td>
      <td className="text-right">
        {milliseconds(firstByte.least)} to {milliseconds(firstByte.most)}
      </td>
      <td className="text-right">{known(group.siteMs)}</td>
      <td className="text-right">{known(group.hostAndNetworkMs)}</td>
      <td className="text-right">{bytes(group.bytes)}</td>
    </tr>
  )
}

const MOST_NAMED = 4

function mostWork({ payers, siteMs }: ServerGroupView, names: Map<string, string>): string {
  const named = payers
    .filter(({ serverMs }) => serverMs > 0.05 * (siteMs ?? Infinity))
    .slice(0, MOST_NAMED)
    .map(({ payer, serverMs }) => `${names.get(payer) ?? payer} ${milliseconds(serverMs)}`)
  return named.length > 0 ? `Most of the site’s work: ${named.join(', ')}.` : ''
}
