import type { PictureLook } from '@unvelt/contract'
import { useAddOns, useDrafts } from '../api/queries.js'
import { bytes, plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { useDraft } from '../rules/use-draft.js'
import { lazyRules, lower, type Device } from './lazy-rules.js'
import { ON_DEVICE } from './picture-words.js'

interface HoldLowerProps {
  siteId: number
  path: string
  look: PictureLook
  /** Slug of whoever a picture is charged to, by its address. */
  payerOf: ReadonlyMap<string, string>
}

/** On which devices what is offered would wait. */
function onWords(devices: readonly (Device | undefined)[]): string {
  if (devices.length > 1) return 'Each where nobody sees it at first.'
  const [on] = devices
  return on === undefined ? 'At a desk and on a handset.' : `Only ${ON_DEVICE[on]}, as it was looked at.`
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
  const lowerPictures = lower(look.pictures, look).filter(isNamed)
  const [pictures, frames] = [lowerPictures.length, lower(look.frames, look).filter(isNamed).length]
  const weight = lowerPictures.reduce((sum, picture) => sum + picture.bytes, 0)
  const devices = [...new Set(rules.map(({ condition }) => condition?.device))]
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
      <span className="text-[13px] text-soft">{onWords(devices)}</span>
    </div>
  )
}
