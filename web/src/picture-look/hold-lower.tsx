import type { LookedAtFrame, LookedAtPicture, PictureLook, RuleInput } from '@unvelt/contract'
import { useAddOns, useDrafts } from '../api/queries.js'
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

/** Frames that nobody sees at first, and that come at once all the same, each address once. */
export const lowerFrames = (frames: readonly LookedAtFrame[]): LookedAtFrame[] => {
  const atOnce = new Set(frames.filter(({ where }) => where === 'in view').map(({ url }) => url))
  const lower = frames.filter(({ url, where, lazy }) => where === 'further down' && !lazy && !atOnce.has(url))
  return [...new Map(lower.map((frame) => [frame.url, frame])).values()]
}

/** One rule a picture or frame: the browser itself waits until it is near. It says nothing of devices through which nobody has looked. */
export function lazyRules(
  { pictures, frames, viewWidth }: PictureLook,
  path: string,
  payerOf: ReadonlyMap<string, string>,
): RuleInput[] {
  return [...lowerPictures(pictures), ...lowerFrames(frames)].map(({ url, isOwn }) => ({
    addon: payerOf.get(url) ?? 'content',
    file: isOwn ? new URL(url).pathname : url,
    effect: 'hold' as const,
    until: 'seen' as const,
    place: { level: 'page' as const, path },
    condition: { device: viewWidth >= DESK_FROM ? ('desk' as const) : ('handset' as const) },
  }))
}

/** Offers to have the page's lower pictures and frames wait. */
export function HoldLower({ siteId, path, look, payerOf }: HoldLowerProps) {
  const draft = useDraft(siteId)
  const { data: drafts } = useDrafts(siteId)
  const { data: addOns = [] } = useAddOns(siteId)
  // A site with a connector obeys rules only on what it knows.
  const known = new Set(addOns.filter(({ source }) => source === 'connector').map(({ slug }) => slug))
  const canBeSaid = (payer: string) => known.size === 0 || payer === 'content' || known.has(payer)
  const rules = lazyRules(look, path, payerOf).filter(({ addon }) => canBeSaid(addon))
  if (rules.length === 0) return null
  const named = new Set(rules.map(({ file }) => file))
  const isNamed = ({ url, isOwn }: { url: string; isOwn: boolean }) => named.has(isOwn ? new URL(url).pathname : url)
  const lower = lowerPictures(look.pictures).filter(isNamed)
  const [pictures, frames] = [lower.length, lowerFrames(look.frames).filter(isNamed).length]
  const weight = lower.reduce((sum, picture) => sum + picture.bytes, 0)
  const isDrafted = rules.every(({ file }) => drafts?.rules.some((rule) => rule.file === file && rule.until === 'seen'))
  return (
    <div className="mt-2 flex flex-wrap items-center gap-3">
      <p>
        {[pictures > 0 && plural(pictures, 'picture'), frames > 0 && plural(frames, 'frame')]
          .filter(Boolean)
          .join(' and ')}{' '}
        further down {rules.length === 1 ? 'comes' : 'come'} at once
        {weight > 0 && `, ${bytes(weight)}${frames > 0 ? ' without the frames' : ''}`}.
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
