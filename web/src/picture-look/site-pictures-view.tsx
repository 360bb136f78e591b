import { createColumnHelper } from '@tanstack/react-table'
import { useMemo, useState } from 'react'
import { Link } from 'react-router'
import type { Page, SitePicture, SitePictures } from '@unvelt/contract'
import { pictureAddress, useLookAtAllPictures, useSitePictures } from '../api/pictures.js'
import { bytes, dateTime, plural } from '../figures/format.js'
import { PromisesPart } from '../promises/promises-part.js'
import { Button } from '../parts/button.js'
import { Failed, Loading } from '../parts/notice.js'
import { SortedTable } from '../parts/sorted-table.js'
import { toast } from '../parts/toast.js'
import { HandOverPictures } from './hand-over-pictures.js'
import { Likeness } from './likeness.js'
import { PicturePair } from './picture-pair.js'
import { fileName, formatName, loadingWords, remadeName, size, sizeWords } from './picture-words.js'

const gainOf = ({ spared, twice }: SitePicture): number => spared + twice

/** What the pictures of all pages weigh and could weigh, each once, however many pages draw it. */
export function SitePicturesView({ siteId, pages }: { siteId: number; pages: readonly Page[] }) {
  const all = useSitePictures(siteId)
  const look = useLookAtAllPictures(siteId)
  const [chosen, setChosen] = useState<number | null>(null)
  if (all.isError) return <Failed error={all.error} retry={() => void all.refetch()} />
  if (!all.data) return <Loading what="the pictures" />
  const { data } = all
  const similarity = chosen ?? data.similarity
  const stays = data.pictures.filter(({ changed }) => !changed)
  const matters = stays.filter((one) => gainOf(one) > data.leastBytes)
  const ask = (wish: number | null) => look.mutate(wish, { onError: (error) => toast.error(error.message) })
  return (
    <div className="py-4">
      <div className="px-4">
        <p className="max-w-3xl text-soft">
          Loads each page that anybody may see once as each device of the site’s lenses does, and makes its pictures
          anew at the largest size at which they are drawn, as lightly as they stay as similar to themselves as is said
          here. What it would spare is told in 1,000 page views
          {data.looked > 0 && !data.byViews && ', every page counted alike, since no views are known'}.
        </p>
        <div className="mt-3 flex flex-wrap items-end gap-4">
          <Likeness value={similarity} onChange={setChosen} />
          {data.waiting > 0 ? (
            <>
              <p role="status" className="py-1.5">
                {data.pages - data.waiting} of {plural(data.pages, 'page')} …
              </p>
              <Button disabled={look.isPending} onClick={() => ask(null)}>
                Stop
              </Button>
            </>
          ) : (
            <Button weight="main" disabled={look.isPending} onClick={() => ask(similarity)}>
              {data.looked > 0 ? 'Weigh them again' : `Weigh the pictures of ${plural(data.pages, 'page')}`}
            </Button>
          )}
          {matters.length > 0 && (
            <HandOverPictures
              siteId={siteId}
              pictures={matters.map((one) => ({
                ...one,
                more: { pages: one.pageIds.length, 'spared in 1,000 page views': Math.round(one.spared) },
              }))}
            />
          )}
        </div>
      </div>
      <PromisesPart siteId={siteId} kind="picture" />
      {data.looked > 0 && <Found siteId={siteId} data={data} stays={stays} matters={matters} pages={pages} />}
    </div>
  )
}

interface FoundProps {
  siteId: number
  data: SitePictures
  /** Those that came last as they were looked at. */
  stays: SitePicture[]
  matters: SitePicture[]
  pages: readonly Page[]
}

function Found({ siteId, data, stays, matters, pages }: FoundProps) {
  const [pair, setPair] = useState<SitePicture | null>(null)
  const rest = stays.filter((one) => !matters.includes(one))
  const changed = data.pictures.length - stays.length
  const titles = useMemo(() => new Map(pages.map(({ id, title }) => [id, title])), [pages])
  const columns = useMemo(() => columnsOf(siteId, titles, setPair), [siteId, titles])
  const gain = matters.reduce((sum, one) => sum + gainOf(one), 0)
  return (
    <section aria-label="Pictures of the site" className="mt-5">
      <p className="px-4">
        {plural(data.pictures.length, 'picture')} on {plural(data.looked, 'page')}, {bytes(data.together)} in 1,000 page
        views
        {matters.length > 0 &&
          `; ${bytes(gain)} of them could be spared by ${plural(matters.length, 'picture')} made anew`}
        . <span className="text-soft">Looked at since {dateTime(data.since!)}.</span>
        {changed > 0 && (
          <span className="text-soft"> {plural(changed, 'picture')} changed since, and can be weighed again.</span>
        )}
        {data.failed.length > 0 && (
          <span className="text-plum">
            {' '}
            {plural(data.failed.length, 'page')} could not be looked at: {titles.get(data.failed[0]!.pageId)}:{' '}
            {data.failed[0]!.failure}
          </span>
        )}
      </p>
      {matters.length > 0 && (
        <div className="mt-2">
          <SortedTable
            label="Could weigh less"
            rows={matters}
            columns={columns}
            sort={[{ id: 'spared', desc: true }]}
          />
        </div>
      )}
      {rest.length > 0 && (
        <details className="mt-3" open={matters.length === 0}>
          <summary className="cursor-pointer px-4 text-soft hover:text-ink">
            {plural(rest.length, 'picture')} of which{' '}
            {data.leastBytes > 0 ? `no more than ${bytes(data.leastBytes)}` : 'nothing'} in 1,000 page views could be
            spared
          </summary>
          <SortedTable
            label="As light as they need be"
            rows={rest}
            columns={columns}
            sort={[{ id: 'bytes', desc: true }]}
          />
        </details>
      )}
      {pair && (
        <PicturePair
          siteId={siteId}
          pageId={pair.pageId}
          lookId={pair.lookId}
          n={pair.n}
          picture={pair.picture}
          onClose={() => setPair(null)}
        />
      )}
    </section>
  )
}

const column = createColumnHelper<SitePicture>()

const columnsOf = (siteId: number, titles: ReadonlyMap<number, string>, onPair: (one: SitePicture) => void) => [
  column.accessor(({ picture }) => fileName(picture.url), {
    id: 'picture',
    header: 'Picture',
    cell: ({ row: { original } }) => {
      const { picture, pageId, lookId, n, addresses } = original
      return (
        <div className="flex gap-3">
          <img
            src={pictureAddress(siteId, pageId, lookId, n, 'was')}
            alt=""
            loading="lazy"
            className="h-10 w-14 shrink-0 bg-line/40 object-contain"
          />
          <div className="min-w-0">
            <a
              href={picture.url}
              target="_blank"
              rel="noreferrer"
              className="font-semibold break-all hover:text-verdigris"
            >
              {fileName(picture.url)}
            </a>
            <div className="text-[13px] text-soft">
              {[
                formatName(picture.format),
                picture.isOwn ? '' : new URL(picture.url).host,
                addresses.length > 1 ? `the same under ${addresses.length} addresses` : '',
                loadingWords(picture),
              ]
                .filter(Boolean)
                .join(' · ')}
            </div>
          </div>
        </div>
      )
    },
  }),
  column.accessor(({ pageIds }) => pageIds.length, {
    id: 'pages',
    header: 'Pages',
    sortDescFirst: true,
    cell: ({ row: { original } }) => (
      <div className="max-w-48">
        <Link to={`/sites/${siteId}/pages/${original.pageId}?view=pictures`} className="text-verdigris hover:underline">
          {titles.get(original.pageId) ?? 'a page'}
        </Link>
        {original.pageIds.length > 1 && (
          <div className="text-[13px] text-soft">and {original.pageIds.length - 1} more</div>
        )}
      </div>
    ),
  }),
  column.accessor(({ picture }) => picture.drawnWidth * picture.drawnHeight, {
    id: 'drawn',
    header: 'Drawn, at the most',
    cell: ({ row: { original } }) => (
      <>
        <span className="whitespace-nowrap">
          {original.picture.drawnWidth > 0 ? size(original.picture.drawnWidth, original.picture.drawnHeight) : '–'}
        </span>
        <div className="text-[13px] text-soft">{sizeWords(original.picture)}</div>
      </>
    ),
  }),
  column.accessor(({ picture }) => picture.bytes, {
    id: 'bytes',
    header: 'Weighs',
    sortDescFirst: true,
    meta: { figure: true },
    cell: ({ getValue }) => bytes(getValue()),
  }),
  column.accessor(({ picture }) => picture.remade[0]?.bytes ?? picture.bytes, {
    id: 'could',
    header: 'Could weigh',
    meta: { figure: true },
    cell: ({ row: { original } }) => {
      const [lightest] = original.picture.remade
      if (!lightest) return <span className="text-[13px] text-soft">{original.picture.why ?? 'no less'}</span>
      return (
        <button type="button" onClick={() => onPair(original)} className="text-verdigris underline underline-offset-2">
          {bytes(lightest.bytes)} as {remadeName(lightest, original.picture)}
        </button>
      )
    },
  }),
  column.accessor(gainOf, {
    id: 'spared',
    header: 'Spared in 1,000 views',
    sortDescFirst: true,
    meta: { figure: true },
    cell: ({ row: { original } }) => (
      <>
        <span className="font-semibold">{gainOf(original) > 0 ? bytes(gainOf(original)) : '–'}</span>
        {original.twice > 0 && (
          <div className="text-[13px] text-soft">{bytes(original.twice)} of it asked for again</div>
        )}
      </>
    ),
  }),
]
