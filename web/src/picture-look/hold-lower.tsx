import type { LookedAtPicture, PictureLook, RuleInput } from '@unvelt/contract'
import { useDrafts } from '../api/queries.js'
import { bytes, plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { useDraft } from '../rules/use-draft.js'

interface HoldLowerProps {
  siteId: number
  path: string
  look: PictureLook
  /** Slug of whoever a picture is charged to, by its address. */
  payerOf: ReadonlyMap<string, string>
}

/** From so many CSS pixels on a view is a desk's. */
const DESK_FROM = 800

/** Pictures that nobody sees at first, and that come at once all the same; never the largest paint. */
export const lowerPictures = (pictures: readonly LookedAtPicture[]): LookedAtPicture[] =>
  pictures.filter(({ where, lazy, isLargest }) => where === 'further down' && !lazy && !isLargest)

/** One rule a picture: the browser itself waits until it is near. It says nothing of devices through which nobody has looked. */
export function lazyRules(
  { pictures, viewWidth }: PictureLook,
  path: string,
  payerOf: ReadonlyMap<string, string>,
): RuleInput[] {
  return lowerPictures(pictures).map(({ url, isOwn }) => ({
    addon: payerOf.get(url) ?? 'content',
    file: isOwn ? new URL(url).pathname : url,
    effect: 'hold' as const,
    until: 'seen' as const,
    place: { level: 'page' as const, path },
    condition: { device: viewWidth >= DESK_FROM ? ('desk' as const) : ('handset' as const) },
  }))
}

/** Offers to have the page's lower pictures wait. */
export function HoldLower({ siteId, path, look, payerOf }: HoldLowerProps) {
  const draft = useDraft(siteId)
  const { data: drafts } = useDrafts(siteId)
  const rules = lazyRules(look, path, payerOf)
  if (rules.length === 0) return null
  const weight = lowerPictures(look.pictures).reduce((sum, picture) => sum + picture.bytes, 0)
  const isDrafted = rules.every(({ file }) => drafts?.rules.some((rule) => rule.file === file && rule.until === 'seen'))
  return (
    <div className="mt-2 flex flex-wrap items-center gap-3">
      <p>
        {plural(rules.length, 'picture')} further down {rules.length === 1 ? 'comes' : 'come'} at once, {bytes(weight)}.
      </p>
      <Button disabled={draft.isPending || isDrafted} onClick={() => draft.add(rules)}>
        {isDrafted ? 'Drafted' : `Hold ${rules.length === 1 ? 'it' : 'them'} until near`}
      </Button>
      <span className="text-[13px] text-soft">
        {look.viewWidth >= DESK_FROM ? 'At a desk' : 'On a handset'}, as it was looked at.
      </span>
    </div>
  )
}
