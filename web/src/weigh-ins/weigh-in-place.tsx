import clsx from 'clsx'
import { Link, useNavigate, useParams, useSearchParams } from 'react-router'
import type { WeighIn } from '@unvelt/contract'
import { useAddOns } from '../api/queries.js'
import { useForgetWeighIn, useWeighIn } from '../api/weigh-ins.js'
import { dateTime, plural } from '../figures/format.js'
import { useSite } from '../frame/site-context.js'
import { Button } from '../parts/button.js'
import { Failed, Loading } from '../parts/notice.js'
import { toast } from '../parts/toast.js'
import { SideBySide } from './side-by-side.js'
import { ValueCurve } from './value-curve.js'
import { settingRow } from './variant-draft.js'
import { differenceWords, payerWords } from './weigh-words.js'
import { WeighedTable } from './weighed-table.js'

/** One weigh-in: each page under each variant. */
export function WeighInPlace() {
  const site = useSite()
  const weighed = useWeighIn(site.id, Number(useParams().weighIn))
  if (weighed.isPending) return <Loading what="the weigh-in" />
  if (weighed.isError) return <Failed error={weighed.error} retry={() => void weighed.refetch()} />
  return <Weighed siteId={site.id} weighIn={weighed.data} />
}

function Weighed({ siteId, weighIn }: { siteId: number; weighIn: WeighIn }) {
  const { sweep, variants, pages, siteName } = weighIn
  const { data: addOns = [] } = useAddOns(siteId)
  const [search] = useSearchParams()
  const running = sweep.status === 'running' || sweep.status === 'paused'
  const page = pages.find((each) => String(each.page.id) === search.get('page')) ?? pages[0]
  const row = settingRow(variants)
  const settingName = addOns.flatMap(({ settings }) => settings).find(({ slug }) => slug === row?.setting)?.name
  return (
    <div className="h-full overflow-auto">
      <header className="flex items-end justify-between gap-6 border-b border-line px-4 pt-4 pb-3">
        <div className="min-w-0">
          <p className="text-[13px]">
            <Link to={`/sites/${siteId}/weigh-ins`} className="text-verdigris underline underline-offset-2">
              Weigh-ins
            </Link>
          </p>
          <h1 className="mt-0.5 text-[22px] break-words">{weighIn.title}</h1>
          <p className="text-soft">
            {weighIn.siteId !== siteId && `On ${siteName}. `}
            {plural(variants.length, 'variant')} of{' '}
            {weighIn.onCopies && (sweep.pages === 1 ? 'a copy of ' : 'copies of ')}
            {plural(sweep.pages, 'page')}, read in turn through {sweep.lens}, {dateTime(weighIn.createdAt)}.{' '}
            {running
              ? `${sweep.readings} of ${plural(sweep.readingsPlanned, 'reading')} so far${sweep.why ? `: ${sweep.why}` : ''}.`
              : `${plural(sweep.readings, 'reading')}${sweep.status === 'cancelled' ? ', then cancelled' : ''}.`}
          </p>
        </div>
        <Forget siteId={siteId} weighIn={weighIn} />
      </header>
      {sweep.failures.map(({ reason, paths }) => (
        <p key={reason} role="alert" className="border-b border-line px-4 py-1.5 text-plum">
          {reason} ({paths.join(', ')})
        </p>
      ))}
      {!page && (
        <p className="px-4 py-6 text-soft">{running ? 'The first reading is under way.' : 'Nothing was read.'}</p>
      )}
      {pages.length > 1 && (
        <nav aria-label="Pages weighed" className="flex flex-wrap gap-x-5 border-b border-line px-4">
          {pages.map((each) => (
            <Link
              key={each.page.id}
              to={{ search: `?page=${each.page.id}` }}
              aria-current={each === page ? 'page' : undefined}
              className="border-b-2 border-transparent py-1.5 text-soft hover:text-ink aria-[current]:border-verdigris aria-[current]:font-semibold aria-[current]:text-ink"
            >
              {each.page.title}
            </Link>
          ))}
        </nav>
      )}
      {page && (
        <div className="px-4 pt-3 pb-10">
          <p className="text-soft">
            <Link to={`/sites/${weighIn.siteId}/pages/${page.page.id}`} className="text-ink hover:underline">
              {page.page.title}
            </Link>{' '}
            {page.page.path}
          </p>
          <ul aria-label="In words" className="mt-1 mb-3">
            {running && <li className="text-soft">So far:</li>}
            {variants.slice(1).map(({ name }, n) => (
              <li key={name}>
                <span className="font-semibold">{name}</span>: {differenceWords(page, n + 1)}
                {page.looks[n + 1]!.complaints.length > 0 && (
                  <span className="text-plum">
                    {' '}
                    – the page complains: {page.looks[n + 1]!.complaints.slice(0, 3).join(' · ')}
                  </span>
                )}
                {page.looks[n + 1]!.payers.length > 0 && (
                  <span className="figures block text-[13px] text-soft">
                    Who pays: {page.looks[n + 1]!.payers.map(payerWords).join(' · ')}
                  </span>
                )}
              </li>
            ))}
          </ul>
          <div className={clsx('overflow-x-auto', variants.length > 4 && 'text-[14px]')}>
            <div style={{ minWidth: 144 + 130 * variants.length }}>
              <WeighedTable page={page} variants={variants} running={running} />
            </div>
          </div>
          {row && <ValueCurve name={settingName ?? row.setting} values={row.values} page={page} />}
          <SideBySide id={weighIn.id} page={page} variants={variants} />
        </div>
      )}
    </div>
  )
}

function Forget({ siteId, weighIn }: { siteId: number; weighIn: WeighIn }) {
  const forget = useForgetWeighIn(siteId)
  const navigate = useNavigate()
  if (weighIn.siteId !== siteId) return null
  const running = weighIn.sweep.status === 'running' || weighIn.sweep.status === 'paused'
  return (
    <Button
      weight="danger"
      disabled={forget.isPending}
      onClick={() =>
        forget.mutate(weighIn.id, {
          onSuccess: () => {
            toast(running ? 'The weigh-in is stopped and thrown away.' : 'The weigh-in is thrown away.')
            void navigate(`/sites/${siteId}/weigh-ins`)
          },
          onError: (error) => toast.error(error.message),
        })
      }
    >
      {running ? 'Stop and throw away' : 'Throw away'}
    </Button>
  )
}
