import { useState } from 'react'
import { STANDARD_SIMILARITY, type LookedAtPicture, type LookedThroughLens, type PictureLook } from '@unvelt/contract'
import { pictureAddress, useLookAtPictures, usePictures } from '../api/pictures.js'
import { bytes, dateTime, plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { Failed, Loading } from '../parts/notice.js'
import { toast } from '../parts/toast.js'
import { HoldLower } from './hold-lower.js'
import { HandOverPictures, type ChosenPicture } from './hand-over-pictures.js'
import { Likeness } from './likeness.js'
import { PicturePair } from './picture-pair.js'
import {
  fileName,
  formatName,
  loadingWords,
  lookedThroughWords,
  ON_DEVICE,
  remadeName,
  size,
  sizeWords,
  spared,
  throughOf,
} from './picture-words.js'

interface Props {
  siteId: number
  pageId: number
  path: string
  /** Slug of whoever a picture is charged to, by its address. */
  payerOf: ReadonlyMap<string, string>
}

/** What the page's pictures weigh, and what they could: each is made anew at the size at which it is drawn. */
export function PicturesTab({ siteId, pageId, path, payerOf }: Props) {
  const pictures = usePictures(siteId, pageId)
  const look = useLookAtPictures(siteId, pageId)
  const [chosen, setChosen] = useState<number | null>(null)
  if (pictures.isError) return <Failed error={pictures.error} retry={() => void pictures.refetch()} />
  if (!pictures.data) return <Loading what="what was looked at" />
  const { newest } = pictures.data
  const underWay = newest?.underWay === true
  const similarity = chosen ?? newest?.similarity ?? STANDARD_SIMILARITY
  return (
    <div className="px-4 py-4">
      <p className="max-w-3xl text-soft">
        Loads the page once as each device of the site’s lenses does, goes down to its end, and makes each picture anew
        at the largest size at which any of them draws it: in its own format, as WebP and as AVIF, as lightly as it
        stays as similar to itself as is said here.
      </p>
      <div className="mt-3 flex flex-wrap items-end gap-4">
        <Likeness value={similarity} onChange={setChosen} />
        <Button
          weight="main"
          disabled={underWay || look.isPending}
          onClick={() => look.mutate(similarity, { onError: (error) => toast.error(error.message) })}
        >
          {underWay ? progress(newest) : newest ? 'Weigh its pictures again' : 'Weigh its pictures'}
        </Button>
        {newest && !underWay && newest.pictures.length > 0 && (
          <HandOverPictures siteId={siteId} pictures={worthIt(newest, pageId)} />
        )}
      </div>
      {newest && <Look siteId={siteId} pageId={pageId} path={path} payerOf={payerOf} look={newest} />}
    </div>
  )
}

const worthIt = ({ id: lookId, pictures, leastBytes }: PictureLook, pageId: number): ChosenPicture[] =>
  pictures.flatMap((picture, n) => (spared(picture) > leastBytes ? [{ pageId, lookId, n, picture }] : []))

const progress = ({ pictures, toLookAt }: PictureLook): string =>
  toLookAt === null ? 'Looking at the page …' : `${pictures.length} of ${plural(toLookAt, 'picture')} …`

function Look({ siteId, pageId, path, payerOf, look }: Props & { look: PictureLook }) {
  const [pair, setPair] = useState<number | null>(null)
  const { pictures, leastBytes, failure, underWay, toLookAt } = look
  const together = pictures.reduce((sum, { bytes: each }) => sum + each, 0)
  const all = pictures.map((picture, n) => ({ picture, n })).sort((a, b) => spared(b.picture) - spared(a.picture))
  const matters = all.filter(({ picture }) => spared(picture) > leastBytes)
  const rest = all.filter(({ picture }) => spared(picture) <= leastBytes)
  const gain = matters.reduce((sum, { picture }) => sum + spared(picture), 0)
  const rows = (some: typeof all) =>
    some.map(({ picture, n }) => (
      <PictureRow
        key={n}
        picture={picture}
        lenses={look.lenses}
        thumb={pictureAddress(siteId, pageId, look.id, n, 'was')}
        onPair={() => setPair(n)}
      />
    ))
  if (failure) return <p className="mt-4 text-plum">{failure}</p>
  const lower = !underWay && <HoldLower siteId={siteId} path={path} look={look} payerOf={payerOf} />
  if (toLookAt === 0 && !underWay)
    return (
      <div className="mt-4">
        <p className="text-soft">This page draws no pictures.</p>
        {lower}
      </div>
    )
  return (
    <section aria-label="Pictures of the page" className="mt-5">
      <p>
        {plural(pictures.length, 'picture')}, {bytes(together)}
        {matters.length > 0
          ? `; ${bytes(gain)} could be spared on ${plural(matters.length, 'of them', 'of them')}`
          : ''}
        .{' '}
        <span className="text-soft">
          {dateTime(look.takenAt)}, likeness {look.similarity.toFixed(3)}. {lookedThroughWords(look.lenses)}.
          {!look.lenses.some(({ device }) => device === 'handset') &&
            ' No lens of this site is a handset’s, which may draw them with more pixels.'}
        </span>
      </p>
      {lower}
      {matters.length > 0 && <PictureTable name="Could weigh less">{rows(matters)}</PictureTable>}
      {rest.length > 0 && (
        <details className="mt-3" open={matters.length === 0}>
          <summary className="cursor-pointer text-soft hover:text-ink">
            {plural(rest.length, 'picture')} of which {leastBytes > 0 ? `no more than ${bytes(leastBytes)}` : 'nothing'}{' '}
            could be spared
          </summary>
          <PictureTable name="As light as they need be">{rows(rest)}</PictureTable>
        </details>
      )}
      {pair !== null && pictures[pair] && (
        <PicturePair
          siteId={siteId}
          pageId={pageId}
          lookId={look.id}
          n={pair}
          picture={pictures[pair]}
          onClose={() => setPair(null)}
        />
      )}
    </section>
  )
}

const PictureTable = ({ name, children }: { name: string; children: React.ReactNode }) => (
  <table aria-label={name} className="figures mt-2 w-full">
    <thead>
      <tr className="border-b border-line text-left text-[12.5px] text-soft">
        <th className="py-1 font-normal">Picture</th>
        <th className="py-1 font-normal">File</th>
        <th className="py-1 font-normal">Drawn</th>
        <th className="py-1 font-normal">Loading</th>
        <th className="py-1 text-right font-normal">Weighs</th>
        <th className="py-1 text-right font-normal">Could weigh</th>
        <th className="py-1 text-right font-normal">Spared</th>
      </tr>
    </thead>
    <tbody>{children}</tbody>
  </table>
)

interface RowProps {
  picture: LookedAtPicture
  lenses: LookedThroughLens[]
  thumb: string
  onPair(): void
}

/** How large each device draws it, in its own pixels. */
const DrawnThrough = ({ picture, lenses }: Pick<RowProps, 'picture' | 'lenses'>) =>
  throughOf(picture)
    .filter(({ width }) => width > 0)
    .map(({ through, width, height }) => (
      <span key={through} className="block whitespace-nowrap">
        {size(width, height)}{' '}
        <span className="text-[13px] text-soft">{lenses[through] && ON_DEVICE[lenses[through].device]}</span>
      </span>
    ))

function PictureRow({ picture, lenses, thumb, onPair }: RowProps) {
  const {
    url,
    isOwn,
    format,
    bytes: now,
    fileWidth,
    fileHeight,
    drawnWidth,
    drawnHeight,
    where,
    times,
    remade,
    why,
  } = picture
  const [lightest] = remade
  return (
    <tr className="border-b border-line/60 align-top">
      <td className="py-1.5 pr-4">
        <div className="flex gap-3">
          <img src={thumb} alt="" loading="lazy" className="h-10 w-14 shrink-0 bg-line/40 object-contain" />
          <div className="min-w-0">
            <a href={url} target="_blank" rel="noreferrer" className="font-semibold break-all hover:text-verdigris">
              {fileName(url)}
            </a>
            <div className="text-[13px] text-soft">
              {isOwn ? '' : `${new URL(url).host} · `}
              {where}
              {times > 1 && ` · ${times} times`}
            </div>
          </div>
        </div>
      </td>
      <td className="py-1.5 pr-4 whitespace-nowrap">
        {formatName(format)}
        <div className="text-[13px] text-soft">{fileWidth > 0 && size(fileWidth, fileHeight)}</div>
      </td>
      <td className="py-1.5 pr-4">
        {lenses.length < 2 || drawnWidth === 0 ? (
          <span className="whitespace-nowrap">{drawnWidth > 0 ? size(drawnWidth, drawnHeight) : '–'}</span>
        ) : (
          <DrawnThrough picture={picture} lenses={lenses} />
        )}
        <div className="text-[13px] text-soft">{sizeWords(picture)}</div>
      </td>
      <td className="py-1.5 pr-4 text-[13px] text-soft">{loadingWords(picture, lenses)}</td>
      <td className="py-1.5 text-right whitespace-nowrap">{bytes(now)}</td>
      <td className="py-1.5 pl-4 text-right">
        {lightest ? (
          <button type="button" onClick={onPair} className="text-verdigris underline underline-offset-2">
            {bytes(lightest.bytes)} <span className="whitespace-nowrap">as {remadeName(lightest, picture)}</span>
          </button>
        ) : (
          <span className="text-[13px] text-soft">{why ?? 'no less'}</span>
        )}
      </td>
      <td className="py-1.5 pl-4 text-right font-semibold whitespace-nowrap">
        {lightest ? bytes(spared(picture)) : '–'}
      </td>
    </tr>
  )
}
