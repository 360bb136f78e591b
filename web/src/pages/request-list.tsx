import type { PageRequest } from '@unvelt/contract'
import { bytes, milliseconds } from '../figures/format.js'
import { evidenceWords } from './evidence.js'

/** Requests one under the other, each with what came and why its payer pays. */
export function RequestList({ requests }: { requests: PageRequest[] }) {
  return (
    <ul className="mt-1">
      {requests.map((request) => {
        const { host, file } = address(request.url)
        return (
          <li key={request.id} className="border-b border-line/60 py-1.5 last:border-0">
            <p className="flex justify-between gap-3">
              <span className="truncate" title={request.url}>
                {file}
              </span>
              <span className="figures whitespace-nowrap">
                {request.fromCache
                  ? 'from cache'
                  : request.sizeUnknown
                    ? 'size not known'
                    : bytes(request.transferBytes)}
              </span>
            </p>
            <p className="flex justify-between gap-3 text-[12.5px] text-soft">
              <span className="truncate" title={evidenceWords(request)}>
                {request.failure ?? request.status ?? 'no answer'} {typeWords(request)} · {host}
              </span>
              <span className="figures whitespace-nowrap">
                {request.endedMs === null ? 'never ended' : milliseconds(request.endedMs - request.startedMs)}
              </span>
            </p>
            <p className="truncate text-[12.5px] text-soft" title={evidenceWords(request)}>
              {evidenceWords(request)}
            </p>
          </li>
        )
      })}
    </ul>
  )
}

export const typeWords = ({ type, preloaded }: Pick<PageRequest, 'type' | 'preloaded'>): string =>
  preloaded ? `${type}, preloaded` : type

export function address(url: string): { host: string; file: string } {
  if (!URL.canParse(url)) return { host: '', file: url }
  const { host, pathname, search } = new URL(url)
  return { host, file: (pathname.split('/').at(-1) || pathname) + search }
}
