import type { RuleView } from '@unvelt/contract'
import { useLocalCopies } from '../api/rule-parts.js'
import { bytes, dateTime, plural } from '../figures/format.js'
import { Failed } from '../parts/notice.js'

/** Copies of outside files that stand on the own host, while any rule wants one or there are some. */
export function CopiesPart({ siteId, rules }: { siteId: number; rules: readonly RuleView[] }) {
  const copies = useLocalCopies(siteId, true)
  const wants = rules.some(({ effect }) => effect === 'local')
  if (copies.isError && wants) return <Failed error={copies.error} retry={() => void copies.refetch()} />
  if (!copies.data?.isTold || copies.data.copies.length === 0) return null
  return (
    <section aria-label="Copies on the own host">
      <h2 className="px-4 pt-6 pb-1 text-[17px]">Copies on the own host</h2>
      <div className="overflow-x-auto">
        <table className="figures w-full min-w-[760px]" aria-label="Copies on the own host">
          <thead>
            <tr className="border-b border-line text-left text-[12.5px] text-soft">
              <th className="py-1 pl-4 font-normal">Copy of</th>
              <th className="py-1 font-normal">for</th>
              <th className="py-1 text-right font-normal">weighs</th>
              <th className="py-1 pl-6 font-normal">fetched</th>
              <th className="py-1 font-normal">anew</th>
              <th className="py-1 pr-4 font-normal">by browsers</th>
            </tr>
          </thead>
          <tbody>
            {copies.data.copies.map(({ address, path, addon, isChecked, trouble, ...copy }) => (
              <tr key={path} className="border-b border-line/60">
                <th className="max-w-96 truncate py-1 pl-4 text-left font-normal" title={`${address}\n${path}`}>
                  {address}
                </th>
                <td>{addon}</td>
                <td className="text-right">{bytes(copy.bytes)}</td>
                <td className="pl-6">{dateTime(copy.fetchedAt)}</td>
                <td className={trouble === null ? 'text-soft' : 'text-plum'}>
                  {trouble === null
                    ? copy.isMade
                      ? 'made of it, and given'
                      : copy.refreshDays === null
                        ? 'never'
                        : `every ${plural(copy.refreshDays, 'day')}`
                    : copy.isMade
                      ? trouble
                      : `could not be had: ${trouble}`}
                </td>
                <td className="pr-4 text-soft">{isChecked ? 'checked' : 'not checked'}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  )
}
