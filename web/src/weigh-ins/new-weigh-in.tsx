import { useState } from 'react'
import { Link, useNavigate, useSearchParams } from 'react-router'
import { MOST_VARIANTS, WEIGH_IN_REPEATS, type AddOn, type Page, type Shelf, type Site } from '@unvelt/contract'
import { ApiError } from '../api/client.js'
import { useAddOns, useLenses, usePages } from '../api/queries.js'
import { useShelf, useWeigh } from '../api/weigh-ins.js'
import { plural } from '../figures/format.js'
import { useSite } from '../frame/site-context.js'
import { Button } from '../parts/button.js'
import { Failed, Loading } from '../parts/notice.js'
import { NumberInput } from '../parts/number-input.js'
import { toast } from '../parts/toast.js'
import { PagesWeighed } from './pages-weighed.js'
import { ValueRow } from './value-row.js'
import { VariantCard } from './variant-card.js'
import { firstVariants, variantOf, type Names, type VariantDraft } from './variant-draft.js'

/** What is to be held against what, and on which pages. */
export function NewWeighInPlace() {
  const site = useSite()
  const addOns = useAddOns(site.id)
  const pages = usePages(site.id)
  const shelf = useShelf(site.id)
  const failed = addOns.error ?? pages.error
  if (failed) return <Failed error={failed} />
  if (!addOns.data || !pages.data || shelf.isPending) return <Loading what="what the site could try" />
  return (
    <Form
      site={site}
      addOns={addOns.data}
      pages={pages.data}
      shelf={shelf.data ?? { canTry: false, canCopy: false, addOns: [] }}
      shelfFailed={shelf.error}
    />
  )
}

interface FormProps {
  site: Site
  addOns: AddOn[]
  pages: Page[]
  shelf: Shelf
  shelfFailed: Error | null
}

function Form({ site, addOns, pages, shelf, shelfFailed }: FormProps) {
  const [search] = useSearchParams()
  const { data: lenses = [] } = useLenses(site.id)
  const names: Names = { addOns, shelf: shelf.addOns }
  const [chosen, setChosen] = useState<number[]>(() => firstPages(pages, search.get('page')))
  const [variants, setVariants] = useState<VariantDraft[]>(() =>
    firstVariants(search.get('addon'), shelf.addOns, MOST_VARIANTS),
  )
  const [lensId, setLensId] = useState<number | null>(null)
  const [onCopies, setOnCopies] = useState(false)
  const [repeats, setRepeats] = useState(WEIGH_IN_REPEATS)
  const weigh = useWeigh(site.id)
  const navigate = useNavigate()
  const nextKey = Math.max(0, ...variants.map(({ key }) => key)) + 1
  const change = (at: number) => (variant: VariantDraft) =>
    setVariants(variants.map((other, n) => (n === at ? variant : other)))
  const isEmpty = (n: number) => n > 0 && variants[n]!.changes.length === 0
  const ready = repeats >= 3 && repeats <= 20 && chosen.length > 0 && !variants.some((_, n) => isEmpty(n))
  const start = () =>
    weigh.mutate(
      {
        pageIds: chosen,
        variants: variants.map((variant) => variantOf(variant, names)),
        repeats,
        ...(onCopies && { onCopies }),
        ...(lensId !== null && { lensId }),
      },
      {
        onSuccess: ({ id }) => void navigate(`/sites/${site.id}/weigh-ins/${id}`),
        onError: (error) => toast.error(error.message),
      },
    )
  return (
    <div className="h-full overflow-auto">
      <header className="border-b border-line px-4 pt-4 pb-3">
        <p className="text-[13px]">
          <Link to={`/sites/${site.id}/weigh-ins`} className="text-verdigris underline underline-offset-2">
            Weigh-ins
          </Link>
        </p>
        <h1 className="mt-0.5 text-[22px]">Weigh something</h1>
        <p className="mt-0.5 text-soft">
          The same pages under each variant, in turn. Nothing is installed or changed, and no visitor gets any of it.
        </p>
      </header>
      <form
        aria-label="Weigh-in"
        onSubmit={(event) => {
          event.preventDefault()
          if (ready) start()
        }}
        className="grid max-w-5xl gap-4 px-4 pt-3 pb-10"
      >
        <PagesWeighed pages={pages} chosen={chosen} onChange={setChosen} />
        <div className="grid gap-1.5">
          <span className="font-semibold">What against what</span>
          {!shelf.canTry && (
            <p className="text-[13px] text-soft">
              {shelfFailed
                ? `The site’s shelf could not be asked: ${shelfFailed.message}`
                : 'This site can’t try what is not installed; add-ons can be left out.'}
            </p>
          )}
          <ol aria-label="Variants" className="grid gap-2">
            {variants.map((variant, n) => (
              <VariantCard
                key={variant.key}
                n={n}
                variant={variant}
                names={names}
                problem={problemOf(weigh.error, n)}
                onChange={change(n)}
                {...(variants.length > 2 && {
                  onRemove: () => setVariants(variants.filter((_, other) => other !== n)),
                })}
              />
            ))}
          </ol>
          {variants.length < MOST_VARIANTS && (
            <div>
              <Button onClick={() => setVariants([...variants, { key: nextKey, name: '', changes: [], price: '' }])}>
                One more variant
              </Button>
            </div>
          )}
        </div>
        <ValueRow
          addOns={addOns}
          most={MOST_VARIANTS}
          onRow={(changes) =>
            setVariants(changes.map((each, n) => ({ key: nextKey + n, name: '', changes: [each], price: '' })))
          }
        />
        <div className="flex flex-wrap items-end gap-4 border-t border-line pt-3">
          <label className="grid gap-1">
            <span className="font-semibold">Through</span>
            <select
              value={lensId ?? ''}
              onChange={(event) => setLensId(event.target.value === '' ? null : Number(event.target.value))}
              className="h-9 border border-line bg-sheet px-2"
            >
              {lenses.map(({ id, name }, n) => (
                <option key={id} value={n === 0 ? '' : id}>
                  {name}
                </option>
              ))}
            </select>
          </label>
          {shelf.canCopy && (
            <label className="grid gap-1">
              <span className="font-semibold">On</span>
              <select
                value={onCopies ? 'copies' : 'pages'}
                onChange={(event) => setOnCopies(event.target.value === 'copies')}
                className="h-9 border border-line bg-sheet px-2"
              >
                <option value="pages">these pages</option>
                <option value="copies">copies that nobody else can find</option>
              </select>
            </label>
          )}
          <label className="grid gap-1">
            <span className="font-semibold">Times each</span>
            <span className="flex h-9 items-center">
              <NumberInput value={repeats} least={3} most={20} onChange={setRepeats} />
            </span>
          </label>
          <Button type="submit" weight="main" className="h-9" disabled={!ready || weigh.isPending}>
            {`Read ${plural(chosen.length * variants.length * repeats, 'time')}`}
          </Button>
          <span className="pb-2 text-[13px] text-soft">
            {variants.some((_, n) => isEmpty(n))
              ? 'A variant is still the page as it is.'
              : 'The first of each looks at the use of code, the others give times: five of them for a word on a time.'}
          </span>
        </div>
      </form>
    </div>
  )
}

/** The page that somebody comes from, or the one most seen. */
function firstPages(pages: readonly Page[], wanted: string | null): number[] {
  const open = pages.filter(({ area, signedIn }) => area === 'public' && !signedIn)
  const most = [...open].sort((a, b) => (b.views ?? 0) - (a.views ?? 0))[0] ?? pages[0]
  const page = pages.find(({ id }) => String(id) === wanted) ?? most
  return page ? [page.id] : []
}

const problemOf = (error: Error | null, n: number): string | undefined =>
  error instanceof ApiError
    ? error.problem.errors?.find(({ field }) => field === `variants/${n}` || field.startsWith(`variants/${n}/`))
        ?.message
    : undefined
