import { useState } from 'react'
import { Link } from 'react-router'
import type { AddOn, AddOnFileView, AddOnPast } from '@unvelt/contract'
import { useSite } from '../frame/site-context.js'
import { bytes, count, dateTime, milliseconds, percent } from '../figures/format.js'
import { NotTold } from '../figures/toll-figure.js'
import { writtenAt } from '../rules/rule-values.js'
import { Part } from './add-on-sheet-place.js'

const FEW = 12

/** What it loads, heaviest first, with how much of it is idle. Figures are of all pages together. */
export function FilesTable({ files, addOn }: { files: AddOnFileView[]; addOn: AddOn }) {
  const [all, setAll] = useState(false)
  const site = useSite()
  const own = new URL(site.address).host
  const isRuled = !addOn.gone && (!site.hasConnector || addOn.source === 'connector')
  const shown = all ? files : files.slice(0, FEW)
  return (
    <Part title="Files" note={`${files.length}, over all pages that load them`}>
      <table className="figures w-full">
        <thead>
          <tr className="border-b border-line text-left text-[12.5px] text-soft">
            <th className="py-1 font-normal">File</th>
            <th className="py-1 font-normal">Type</th>
            {['Pages', 'Requests', 'Decoded', 'Idle', 'Main thread'].map((name) => (
              <th key={name} className="py-1 pl-4 text-right font-normal">
                {name}
              </th>
            ))}
            {isRuled && (
              <th className="relative w-20">
                <span className="sr-only">Rule</span>
              </th>
            )}
          </tr>
        </thead>
        <tbody>
          {shown.map((file) => (
            <tr key={file.url} className="border-b border-line/60">
              <td className="max-w-0 min-w-56 truncate py-1" title={file.url}>
                {shortened(file.url, own)}
              </td>
              <td className="py-1">{file.type}</td>
              <td className="py-1 text-right">{count(file.pages)}</td>
              <td className="py-1 text-right">{count(file.requests)}</td>
              <td className="py-1 pl-4 text-right whitespace-nowrap">{bytes(file.decodedBytes)}</td>
              <td className="py-1 pl-4 text-right whitespace-nowrap">
                {file.idleBytes === 0 ? (
                  <span className="text-soft">·</span>
                ) : (
                  <>
                    {bytes(file.idleBytes)}{' '}
                    <span className="text-soft">{percent(file.idleBytes / file.decodedBytes)}</span>
                  </>
                )}
              </td>
              <td className="py-1 pl-4 text-right whitespace-nowrap">
                {file.mainThreadMs < 0.05 ? <span className="text-soft">·</span> : milliseconds(file.mainThreadMs)}
              </td>
              {isRuled && (
                <td className="py-1 text-right whitespace-nowrap">
                  {/^https?:/.test(file.url) && (
                    <Link
                      to={writtenAt(site.id, addOn.slug, file.name)}
                      aria-label={`A rule about ${shortened(file.url, own)}`}
                      className="text-verdigris hover:underline"
                    >
                      A rule …
                    </Link>
                  )}
                </td>
              )}
            </tr>
          ))}
        </tbody>
      </table>
      {files.length > FEW && (
        <button type="button" className="mt-1.5 text-verdigris hover:underline" onClick={() => setAll(!all)}>
          {all ? 'Show the heaviest only' : `Show all ${files.length}`}
        </button>
      )}
    </Part>
  )
}

/** Own files by their path, others by their host as well. */
function shortened(url: string, own: string): string {
  if (!URL.canParse(url)) return url
  const { host, pathname } = new URL(url)
  return host === own ? pathname : `${host.replace(/:\d+$/, '')}${pathname}`
}

/** What it has cost at each survey of the whole site. */
export function PastTable({ past, told }: { past: AddOnPast[]; told: boolean }) {
  return (
    <Part title="Past" note="surveys of the whole site">
      <table className="figures w-full">
        <thead>
          <tr className="border-b border-line text-left text-[12.5px] text-soft">
            <th className="py-1 font-normal">Sweep</th>
            <th className="py-1 font-normal">Version</th>
            {['Pages', 'Requests', 'Transfer', 'Idle', 'Server time', 'Queries'].map((name) => (
              <th key={name} className="py-1 pl-4 text-right font-normal">
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {[...past].reverse().map(({ sweepId, at, version, active, pages, tolls }) => (
            <tr key={sweepId} className="border-b border-line/60">
              <td className="py-1">
                {dateTime(at)} <span className="text-soft">· sweep {sweepId}</span>
              </td>
              <td className="py-1">
                {version ?? <span className="text-soft">{active === null && pages === 0 ? 'not there' : '–'}</span>}
                {active === false && <span className="text-soft"> · off</span>}
              </td>
              <td className="py-1 text-right">{count(pages)}</td>
              <td className="py-1 text-right">{count(tolls.requests ?? 0)}</td>
              <td className="py-1 pl-4 text-right">{bytes(tolls.transferBytes ?? 0)}</td>
              <td className="py-1 pl-4 text-right">{bytes(tolls.idleBytes ?? 0)}</td>
              <td className="py-1 pl-4 text-right">{told ? milliseconds(tolls.serverMs ?? 0) : <NotTold />}</td>
              <td className="py-1 pl-4 text-right">{told ? count(tolls.queries ?? 0) : <NotTold />}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Part>
  )
}
