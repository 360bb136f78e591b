import type { LatePaintView, RuleInput, Site } from '@unvelt/contract'
import { useAddOns, useDrafts } from '../api/queries.js'
import { milliseconds } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { useDraft } from '../rules/use-draft.js'

const WHY: Record<LatePaintView['because'], string> = {
  waits: 'its tag leaves it until it comes near, though it is in sight at once',
  style: 'only a stylesheet names it, which had to come first',
  script: 'only a script puts it in, which had to come and run first',
  turn: 'other things were asked for before it',
}

/** Says of the page's largest picture that it is asked for late, and why, and offers to ask for it first. */
export function LatePaint({ site, path, late }: { site: Site; path: string; late: LatePaintView }) {
  const draft = useDraft(site.id)
  const { data: drafts } = useDrafts(site.id)
  const { data: addOns = [] } = useAddOns(site.id)
  // A site with a connector obeys rules only on what it knows.
  const canBeSaid =
    site.asksFirst &&
    (!site.hasConnector ||
      late.payer === 'content' ||
      addOns.some(({ slug, source }) => slug === late.payer && source === 'connector'))
  const { file, because, couldMs, askedMs } = late
  const isNamed = because === 'waits' || because === 'turn'
  const rule: RuleInput = {
    ...{ addon: late.payer, file, effect: 'hint', place: { level: 'page', path } },
    condition: { device: late.device },
    ...(!isNamed && { ahead: true }),
  }
  const isDrafted = drafts?.rules.some((one) => one.file === file && one.effect === 'hint') === true
  return (
    <div role="note" aria-label="The largest paint" className="mt-3 max-w-3xl border-l-2 border-verdigris pl-3">
      <p>
        The largest thing in sight is <span className="break-all">{file}</span>. It is asked for{' '}
        {milliseconds(askedMs - couldMs)} after the page’s first byte, later than it could be: {WHY[because]}.
      </p>
      {canBeSaid && (
        <p className="mt-1 flex flex-wrap items-center gap-3">
          <Button disabled={draft.isPending || isDrafted} onClick={() => draft.add([rule])}>
            {isDrafted ? 'Drafted' : 'Ask for it first'}
          </Button>
          <span className="text-[13px] text-soft">
            {isNamed ? 'Its tag says so then.' : 'A link in the page’s head announces it then.'} How much sooner it is
            drawn, a rehearsal tells.
          </span>
        </p>
      )}
    </div>
  )
}
