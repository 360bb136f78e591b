import type { GuardView, RehearsedPage } from '@unvelt/contract'
import { useCauseOfGuard, useRoundCauses } from '../api/complaints.js'
import { useSite } from '../frame/site-context.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'
import { CausePart } from './cause-part.js'
import { changeWords } from './cause-words.js'

interface GuardCauseProps {
  round: number
  page: RehearsedPage
  guard: GuardView['guard']
}

/** What causes what a guard found on the live site, looked for on request. */
export function GuardCause({ round, page, guard }: GuardCauseProps) {
  const site = useSite()
  const { data } = useRoundCauses(site.id, round, true)
  const find = useCauseOfGuard(site.id, round)
  const ofPage = data?.searches.filter(({ pageId }) => pageId === page.pageId) ?? []
  const search = ofPage.find((one) => one.guard === guard && one.lensId === page.lensId)
  const isBusy = ofPage.some(({ state }) => state === 'running')
  const begin = () =>
    find.mutate({ pageId: page.pageId, lensId: page.lensId, guard }, { onError: (error) => toast.error(error.message) })
  return (
    <div className="mt-1 pl-6.5">
      {search && <CausePart site={site} page={page} search={search} />}
      {!search && data && data.changed.length > 0 && (
        <p className="text-[13px] text-soft">
          Since it was as it should be: {data.changed.map((one) => `${one.name} ${changeWords(one)}`).join(', ')}.
        </p>
      )}
      {search?.state !== 'running' && (
        <p className="mt-1.5">
          <Button weight="quiet" disabled={!data || find.isPending || isBusy} onClick={begin}>
            {search ? 'Look again' : 'What causes it?'}
          </Button>
        </p>
      )}
    </div>
  )
}
