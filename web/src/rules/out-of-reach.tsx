import type { OutOfReach } from '@unvelt/contract'
import { plural } from '../figures/format.js'

const SHOWN_AT_MOST = 4

/** Files that a rule should take away and nothing can: they stay, and count nowhere. */
export function OutOfReachList({ files, named }: { files: OutOfReach[]; named(slug: string): string }) {
  if (files.length === 0) return null
  const isOfSeveral = new Set(files.map(({ payer }) => payer)).size > 1
  return (
    <div className="mt-2 text-[13px] text-soft">
      <p>
        Out of reach: {plural(files.length, 'file')} will load all the same and {files.length === 1 ? 'is' : 'are'} not
        counted.
      </p>
      <ul className="mt-0.5">
        {files.slice(0, SHOWN_AT_MOST).map(({ payer, url, because, pages }) => (
          <li key={`${payer} ${url}`} className="mt-0.5 [overflow-wrap:anywhere]" title={url}>
            <span className="text-ink">{fileOf(url)}</span>
            {isOfSeveral && ` of ${named(payer)}`}: {because}
            {pages > 1 && `, on ${plural(pages, 'page')}`}
          </li>
        ))}
      </ul>
      {files.length > SHOWN_AT_MOST && <p>and {files.length - SHOWN_AT_MOST} more</p>}
    </div>
  )
}

function fileOf(url: string): string {
  if (!URL.canParse(url)) return url
  const { pathname, host } = new URL(url)
  return pathname.split('/').at(-1) || host
}
