import type { FileLook } from '@unvelt/contract'
import { useFiles, useWeighFiles } from '../api/files.js'
import { bytes, dateTime, plural, span } from '../figures/format.js'
import { address } from '../pages/request-list.js'
import { Button } from '../parts/button.js'
import { Failed } from '../parts/notice.js'
import { toast } from '../parts/toast.js'
import { TwoMinifiers } from './two-minifiers.js'
import { fileGains, isKeptTooShort, nowWords, type FileGain } from './file-gains.js'

interface Props {
  siteId: number
  pageId: number
  /** By the files' addresses. */
  payers: ReadonlyMap<string, string>
}

/** What the page's scripts and styles could weigh: each is asked for once more, packed and minified. */
export function CouldWeighFiles({ siteId, pageId, payers }: Props) {
  const files = useFiles(siteId, pageId)
  const weigh = useWeighFiles(siteId, pageId)
  if (files.isError) return <Failed error={files.error} retry={() => void files.refetch()} />
  const newest = files.data?.newest
  const underWay = newest?.underWay === true
  return (
    <section aria-label="What they could weigh" className="border-b border-line px-4 py-3">
      <div className="flex items-end justify-between gap-6 max-md:flex-wrap">
        <div>
          <h2 className="text-[17px]">What they could weigh</h2>
          <p className="max-w-3xl text-soft">
            Asks for each script and style once more, packs it as servers do by themselves, and minifies it with its
            names left as they are.
          </p>
        </div>
        <Button
          disabled={underWay || weigh.isPending || files.isPending}
          onClick={() => weigh.mutate(undefined, { onError: (error) => toast.error(error.message) })}
        >
          {underWay ? progress(newest) : newest ? 'Weigh them again' : 'Weigh its files'}
        </Button>
      </div>
      {newest && <TwoMinifiers siteId={siteId} files={newest.files} />}
      {newest && <Look look={newest} payers={payers} />}
    </section>
  )
}

const progress = ({ files, toLookAt }: FileLook): string =>
  toLookAt === null ? 'Looking for its files …' : `${files.length} of ${plural(toLookAt, 'file')} …`

function Look({ look, payers }: { look: FileLook; payers: Props['payers'] }) {
  const { files, failure, toLookAt, underWay, leastBytes, leftOut, takenAt } = look
  if (failure) return <p className="mt-3 text-plum">{failure}</p>
  if (toLookAt === 0 && !underWay) return <p className="mt-3 text-soft">This page loads no scripts and no styles.</p>
  if (files.length === 0) return null
  const { worth, rest } = fileGains(look)
  const together = files.reduce((sum, file) => sum + file.bytes, 0)
  const sparedBy = (gains: readonly FileGain[]) => gains.reduce((sum, gain) => sum + gain.spared, 0)
  const [spared, restSpared] = [sparedBy(worth), sparedBy(rest)]
  const short = files.filter(isKeptTooShort)
  const table = (name: string, gains: FileGain[]) => <GainTable name={name} gains={gains} payers={payers} />
  return (
    <div className="mt-3">
      <p>
        {plural(files.length, 'file')}, {bytes(together)} on the wire
        {worth.length > 0 &&
          `; ${bytes(spared)} could be spared on ${plural(worth.length, 'of them', 'of them')}`}.{' '}
        <span className="text-soft">
          {dateTime(takenAt)}.{leftOut > 0 && ` ${plural(leftOut, 'lighter one', 'lighter ones')} not looked at.`}
        </span>
      </p>
      {short.length > 0 && (
        <p className="mt-1 text-[14px]">
          {plural(short.length, 'file')} with an address that changes with {short.length === 1 ? 'its' : 'their'}{' '}
          content {short.length === 1 ? 'is' : 'are'} kept for less than a month:{' '}
          <span className="text-soft">
            {short
              .slice(0, 6)
              .map((file) => `${address(file.url).file} (${keptWords(file.keptSeconds)})`)
              .join(', ')}
            {short.length > 6 && ` and ${short.length - 6} more`}
          </span>
        </p>
      )}
      {worth.length > 0 && table('Could weigh less', worth)}
      {rest.length > 0 && (
        <details className="mt-2" open={worth.length === 0}>
          <summary className="cursor-pointer text-soft hover:text-ink">
            {plural(rest.length, 'file')} of which {leastBytes > 0 ? `no more than ${bytes(leastBytes)}` : 'nothing'}{' '}
            could be spared{restSpared > 0 && `, ${bytes(restSpared)} together`}
          </summary>
          {table('As light as they need be', rest)}
        </details>
      )}
    </div>
  )
}

const keptWords = (seconds: number | null): string =>
  seconds === null ? 'nothing is said' : seconds === 0 ? 'not at all' : span(seconds)

function GainTable({ name, gains, payers }: { name: string; gains: FileGain[]; payers: Props['payers'] }) {
  return (
    <table aria-label={name} className="figures mt-2 w-full">
      <thead>
        <tr className="border-b border-line text-left text-[12.5px] text-soft">
          <th className="py-1 font-normal">File</th>
          <th className="py-1 font-normal">Comes</th>
          <th className="py-1 text-right font-normal">Weighs</th>
          <th className="py-1 text-right font-normal">By packing</th>
          <th className="py-1 text-right font-normal">By minifying</th>
          <th className="py-1 text-right font-normal">Could weigh</th>
        </tr>
      </thead>
      <tbody>
        {gains.map((gain) => (
          <GainRow key={gain.file.url} gain={gain} payer={payers.get(gain.file.url) ?? ''} />
        ))}
      </tbody>
    </table>
  )
}

const less = (spared: number) => (spared > 0 ? `−${bytes(spared)}` : <span className="text-soft">·</span>)

function GainRow({ gain: { file, bytes: left, byPacking, byMinifying }, payer }: { gain: FileGain; payer: string }) {
  const { file: name, host } = address(file.url)
  const isKnown = file.bytes > 0
  return (
    <tr className="border-b border-line/60 align-top">
      <td className="py-1.5 pr-4">
        <a href={file.url} target="_blank" rel="noreferrer" className="font-semibold break-all hover:text-verdigris">
          {name}
        </a>
        <span className="block text-[13px] text-soft">
          {[payer, file.isOwn ? '' : `${host}: only its owner can change it`].filter(Boolean).join(' · ')}
        </span>
      </td>
      <td className="py-1.5 pr-4 text-[13.5px]">
        {isKnown && nowWords(file)}
        {file.why !== null && <span className="block text-[13px] text-soft">{file.why}</span>}
      </td>
      <td className="py-1.5 text-right whitespace-nowrap">{isKnown ? bytes(file.bytes) : '–'}</td>
      <td className="py-1.5 pl-4 text-right whitespace-nowrap">{less(byPacking)}</td>
      <td className="py-1.5 pl-4 text-right whitespace-nowrap">{less(byMinifying)}</td>
      <td className="py-1.5 pl-4 text-right font-semibold whitespace-nowrap">{isKnown ? bytes(left) : '–'}</td>
    </tr>
  )
}
