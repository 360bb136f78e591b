import type { CulpritRequest, CulpritSearch, RuleView } from '@unvelt/contract'
import { useCulprits } from '../api/culprits.js'
import { useDrafts } from '../api/queries.js'
import { plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'
import { draftWords, reasonWords, searchWords } from './culprit-words.js'
import { Narrowing } from './narrowing.js'

interface CulpritPartProps {
  siteId: number
  rehearsal: number
  about: CulpritRequest
  searches: CulpritSearch[]
  drafts: RuleView[]
}

/** Which of the drafts breaks what a guard has found: asked for, followed, and set aside. */
export function CulpritPart({ siteId, rehearsal, about, searches, drafts }: CulpritPartProps) {
  const act = useCulprits(siteId, rehearsal)
  const onError = (error: Error) => toast.error(error.message)
  const search = searches.findLast(
    ({ pageId, lensId, guard }) => pageId === about.pageId && lensId === about.lensId && guard === about.guard,
  )
  const find = (words: string) => (
    <Button disabled={act.isPending} onClick={() => act.mutate({ find: about }, { onError })}>
      {words}
    </Button>
  )
  if (!search) return <div className="mt-1.5 pl-6.5">{find('Find what breaks it')}</div>
  const byId = new Map(drafts.map((rule) => [rule.id, rule]))
  return (
    <div aria-label="What breaks it" role="group" className="mt-1.5 ml-6.5 border-l-2 border-line py-1 pl-3">
      {search.culprits && (
        <Found
          siteId={siteId}
          search={search}
          drafts={byId}
          onSetAside={() => act.mutate({ setAside: search.id }, { onError })}
        />
      )}
      {!search.culprits && (
        <p className="flex items-center gap-2" aria-live="polite">
          <span className="flex-1">{searchWords(search)}</span>
          {search.state === 'running' ? (
            <Button
              weight="quiet"
              disabled={act.isPending}
              onClick={() => act.mutate({ stop: search.id }, { onError })}
            >
              Stop
            </Button>
          ) : (
            find('Look again')
          )}
        </p>
      )}
      {search.suspects.length > 1 && (
        <details open={search.state === 'running'} className="text-[13px]">
          <summary className="cursor-pointer text-verdigris">
            How it narrows: {plural(search.tries.length, 'set')} of {plural(search.suspects.length, 'draft')} tried
          </summary>
          <Narrowing search={search} words={(id) => (byId.has(id) ? draftWords(byId.get(id)!) : 'a draft')} />
        </details>
      )}
    </div>
  )
}

interface FoundProps {
  siteId: number
  search: CulpritSearch
  drafts: ReadonlyMap<string, RuleView>
  onSetAside(): void
}

/** With no draft that could be guilty there is nothing to set aside. */
const NobodyHere = () => (
  <p>No draft touches this page, so none of them breaks it: it fails by itself, or does not always.</p>
)

function Found({ siteId, search: { culprits, suspects, tries }, drafts, onSetAside }: FoundProps) {
  const { data } = useDrafts(siteId)
  const found = culprits ?? []
  const isDraft = found.some((id) => data?.rules.some((rule) => rule.id === id))
  const isAside = found.some((id) => data?.aside.some(({ rule }) => rule.id === id))
  const readings = tries.reduce((sum, one) => sum + one.readings, 0)
  if (found.length === 0) return <NobodyHere />
  return (
    <div className="flex items-start gap-3">
      <div className="min-w-0 flex-1">
        <p className="font-semibold">{found.length === 1 ? 'This breaks it:' : 'Only together these break it:'}</p>
        <ul aria-label="Culprits">
          {found.map((id) => {
            const reasons = reasonWords(suspects.find((one) => one.id === id)?.reasons ?? [])
            return (
              <li key={id}>
                {drafts.has(id) ? draftWords(drafts.get(id)!) : 'a draft that is gone'}
                {reasons && <span className="text-soft"> – {reasons}</span>}
              </li>
            )
          })}
        </ul>
        <p className="text-[13px] text-soft">
          {suspects.length === 1
            ? 'No other draft touches this page, so no reading was needed.'
            : `Found in ${plural(readings, 'reading')}; without ${found.length === 1 ? 'it' : 'any one of them'} the guard holds.`}
        </p>
      </div>
      {isDraft ? (
        <Button onClick={onSetAside}>Set {found.length === 1 ? 'it' : 'them'} aside</Button>
      ) : (
        isAside && <span className="text-soft">set aside</span>
      )}
    </div>
  )
}
