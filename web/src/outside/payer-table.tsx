import clsx from 'clsx'
import type { OutsideHost, OutsidePayer } from '@unvelt/contract'
import { bytes, count, milliseconds, plural } from '../figures/format.js'

const HOW: Record<string, string> = {
  tag: 'by a tag in the page',
  script: 'by a script of',
  style: 'by a style of',
  redirect: 'by a redirect of',
}

/** Each payer with its hosts below it, and below each host those that it brings in. */
export function PayerTable({ payers, pages }: { payers: OutsidePayer[]; pages: number }) {
  return (
    <table className="figures w-full" aria-label="Payers and their hosts">
      <thead>
        <tr className="border-b border-line text-left text-soft">
          <th className="px-4 py-2 font-normal">Payer and host</th>
          <th className="px-2 py-2 font-normal">Comes in</th>
          <th className="px-2 py-2 text-right font-normal">On pages</th>
          <th className="px-2 py-2 text-right font-normal">Requests</th>
          <th className="px-2 py-2 text-right font-normal">Transfer</th>
          <th className="py-2 pr-6 pl-2 text-right font-normal">Slowest answer</th>
        </tr>
      </thead>
      {payers.map((payer) => (
        <tbody key={payer.payer}>
          <tr className="border-b border-line/60 bg-sheet">
            <th colSpan={2} className="px-4 py-2 text-left font-semibold">
              {payer.name}
            </th>
            <td className="px-2 text-right font-semibold">
              {payer.pages} <span className="font-normal text-soft">of {pages}</span>
            </td>
            <td className="px-2 text-right font-semibold">{count(payer.requests)}</td>
            <td className="px-2 text-right font-semibold">{bytes(payer.transferBytes)}</td>
            <td className="pr-6 pl-2" />
          </tr>
          {inOrder(payer.hosts).map(({ host, depth }) => (
            <tr key={host.host} className="border-b border-line/60">
              <td className="py-1.5 pr-2" style={{ paddingLeft: 32 + depth * 22 }}>
                <span className={clsx(depth > 0 && 'border-l-2 border-line pl-2')}>{host.host}</span>
              </td>
              <td className="px-2 text-soft">
                {HOW[host.how] ?? host.how}
                {host.broughtBy !== null && host.how !== 'tag' && ` ${host.broughtBy}`}
                {host.broughtBy === null && host.how !== 'tag' && ' the page’s own'}
              </td>
              <td className="px-2 text-right">{host.pages}</td>
              <td className="px-2 text-right">{count(host.requests)}</td>
              <td className="px-2 text-right">{bytes(host.transferBytes)}</td>
              <td className="pr-6 pl-2 text-right">
                {host.failed > 0 && (
                  <span className="mr-3 text-plum">{plural(host.failed, 'request')} without an answer</span>
                )}
                {milliseconds(host.slowestMs)}
              </td>
            </tr>
          ))}
        </tbody>
      ))}
    </table>
  )
}

/** The hosts as a tree, each behind the one that brings it in; what is brought in by a stranger stands at the top. */
function inOrder(hosts: OutsideHost[]): { host: OutsideHost; depth: number }[] {
  const ordered: { host: OutsideHost; depth: number }[] = []
  const seen = new Set<string>()
  const below = (parent: string | null, depth: number) => {
    for (const host of hosts) {
      const known = hosts.some((other) => other.host === host.broughtBy)
      if (seen.has(host.host) || (parent === null ? known : host.broughtBy !== parent)) continue
      seen.add(host.host)
      ordered.push({ host, depth })
      below(host.host, depth + 1)
    }
  }
  below(null, 0)
  // Hosts that bring each other in have no beginning.
  for (const host of hosts) if (!seen.has(host.host)) ordered.push({ host, depth: 0 })
  return ordered
}
