import { Link } from 'react-router'
import { useState } from 'react'
import type { ChangeView, Site, Standing } from '@unvelt/contract'
import { bytes, signed } from '../figures/format.js'
import { PAGE_OWN } from '../figures/page-own.js'

const FEW = 8

/** What is another than at the sweep before, largest first. */
export function Changes({ site, standing }: { site: Site; standing: Standing }) {
  const [all, setAll] = useState(false)
  const { changes, changedSince } = standing
  if (changedSince === null) return null
  return (
    <section aria-label="What changed">
      <div className="flex items-baseline justify-between">
        <h2 className="text-[17px]">Since sweep {changedSince}</h2>
        {standing.sweep && (
          <Link
            to={`/sites/${site.id}/proof/two-sweeps?then=${changedSince}&now=${standing.sweep.id}`}
            className="text-[13px] text-verdigris hover:underline"
          >
            Side by side
          </Link>
        )}
      </div>
      {changes.length === 0 && <p className="mt-1 text-soft">Nothing that is worth a word.</p>}
      <table className="figures mt-1 w-full">
        <tbody>
          {(all ? changes : changes.slice(0, FEW)).map((change) => (
            <tr key={`${change.type} ${change.slug}`} className="border-b border-line/60">
              <td className="py-1 pr-2">
                {PAGE_OWN.includes(change.slug) ? (
                  change.name
                ) : (
                  <Link
                    className="text-verdigris underline decoration-verdigris/40 underline-offset-2 hover:decoration-verdigris"
                    to={`/sites/${site.id}/add-ons/${encodeURIComponent(change.slug)}`}
                  >
                    {change.name}
                  </Link>
                )}{' '}
                <span className="text-soft">{wordsOf(change)}</span>
              </td>
              <td className="py-1 text-right whitespace-nowrap">
                {change.transferBytes === 0 ? (
                  <span className="text-soft">·</span>
                ) : (
                  signed(change.transferBytes, bytes)
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {changes.length > FEW && (
        <button type="button" className="mt-1 text-[13px] text-verdigris hover:underline" onClick={() => setAll(!all)}>
          {all ? 'Fewer' : `All ${changes.length}`}
        </button>
      )}
    </section>
  )
}

function wordsOf({ type, from, to }: ChangeView): string {
  switch (type) {
    case 'new':
      return 'has come'
    case 'gone':
      return 'is gone'
    case 'updated':
      return `updated, ${from} → ${to}`
    case 'new outsider':
      return 'is a new outsider'
    case 'unassigned':
      return 'has grown'
    default:
      return `is ${type}`
  }
}
