import type { CameOfFile, PromiseKind } from '@unvelt/contract'
import { usePromises } from '../api/promises.js'
import { bytes, dateTime, plural } from '../figures/format.js'
import { address } from '../pages/request-list.js'

const NAMES: Record<PromiseKind, string> = { picture: 'picture', file: 'file' }
const WORDS: Record<CameOfFile['word'], string> = {
  kept: 'kept',
  'in part': 'in part',
  'not yet': 'not yet',
  heavier: 'has grown',
  gone: 'gone from the pages',
}

/** What was said that could be spared, beside what the newest sweep found of it. Nothing where nothing came of anything yet. */
export function PromisesPart({ siteId, kind }: { siteId: number; kind: PromiseKind }) {
  const { data } = usePromises(siteId, kind)
  if (!data || data.found.length === 0) return null
  const { found, sweepId, notYet } = data
  const spared = found.reduce((sum, one) => sum + one.spared, 0)
  return (
    <section aria-label="Said and come" className="mt-5">
      <h2 className="px-4 pb-1 text-[17px]">Said and come</h2>
      <p className="px-4">
        {plural(found.length, NAMES[kind])} changed since it was said what could be spared:{' '}
        {spared >= 0 ? `${bytes(spared)} less` : `${bytes(-spared)} more`} in 1,000 page views, by sweep {sweepId}.{' '}
        {notYet > 0 && <span className="text-soft">{plural(notYet, 'other')} came as before.</span>}
      </p>
      <table aria-label="Said and come" className="figures mt-2 w-full max-w-5xl">
        <thead>
          <tr className="border-b border-line text-[12.5px] text-soft">
            <th className="py-1 pl-4 text-left font-normal">{kind === 'picture' ? 'Picture' : 'File'}</th>
            <th className="py-1 pr-4 text-right font-normal">weighed</th>
            <th className="py-1 pr-4 text-right font-normal">said</th>
            <th className="py-1 text-right font-normal">came</th>
            <th className="py-1 pl-4 text-left font-normal">word</th>
            <th className="py-1 pr-4 text-right font-normal">in 1,000 page views</th>
          </tr>
        </thead>
        <tbody>
          {found.map((one) => (
            <Came key={one.url} {...one} />
          ))}
        </tbody>
      </table>
    </section>
  )
}

function Came({ url, madeAt, bytes: weighed, saving, came, word, now, spared }: CameOfFile) {
  const isBad = word === 'heavier'
  return (
    <tr className="border-b border-line/60">
      <th className="py-1 pr-4 pl-4 text-left font-normal [overflow-wrap:anywhere]">
        {address(url).file}
        {now !== null && now !== url && <span className="block text-[12.5px] text-soft">now {address(now).file}</span>}
      </th>
      <td className="py-1 pr-4 text-right align-top whitespace-nowrap">{bytes(weighed)}</td>
      <td
        className="py-1 pr-4 text-right align-top whitespace-nowrap text-soft"
        title={`Said ${dateTime(madeAt)}, each time it is fetched`}
      >
        −{bytes(saving)}
      </td>
      <td className={`py-1 text-right align-top font-semibold whitespace-nowrap ${isBad ? 'text-plum' : ''}`}>
        {came >= 0 ? `−${bytes(came)}` : `+${bytes(-came)}`}
      </td>
      <td className={`py-1 pl-4 align-top whitespace-nowrap ${isBad ? 'text-plum' : 'text-verdigris'}`}>
        {WORDS[word]}
      </td>
      <td className="py-1 pr-4 text-right align-top whitespace-nowrap">
        {spared >= 0 ? `−${bytes(spared)}` : `+${bytes(-spared)}`}
      </td>
    </tr>
  )
}
