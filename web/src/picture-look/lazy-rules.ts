import type { LookedAtFrame, LookedAtPicture, LookedThroughLens, PictureLook, RuleInput } from '@unvelt/contract'
import { throughOf } from './picture-words.js'

export type Device = LookedThroughLens['device']
type Lower<P> = P & {
  /** Where it can wait: on all devices, null, or on one of them. */
  on: Device | null
}

/**
 * What nobody sees at first and comes at once all the same, never the largest paint: on every device, or on the one on which it
 * is so. Nothing is said of devices through which nobody has looked.
 */
export function lower<P extends LookedAtPicture | LookedAtFrame>(
  some: readonly P[],
  { lenses }: Pick<PictureLook, 'lenses'>,
): Lower<P>[] {
  const devices = [...new Set(lenses.map(({ device }) => device))]
  return some.flatMap((one): Lower<P>[] => {
    const through = throughOf(one)
    const drawnOn = (device: Device) => through.filter(({ through: n }) => lenses[n]?.device === device)
    const canWait = devices.filter((device) => {
      const drawn = drawnOn(device)
      const isLower = drawn.some(({ where }) => where === 'further down')
      const isAtOnce = drawn.some(({ where, isLargest }) => where === 'in view' || isLargest)
      return isLower && !isAtOnce && drawn.some(({ lazy }) => !lazy)
    })
    if (canWait.length === 0) return []
    // Where a device doesn't draw it at all, there is nothing that a rule could do to it.
    const isSeenAtOnce = devices.some((device) => !canWait.includes(device) && drawnOn(device).length > 0)
    return [{ ...one, on: devices.length === 1 || isSeenAtOnce ? canWait[0]! : null }]
  })
}

/** One rule a picture or frame: the browser itself waits until it is near. */
export const lazyRules = (look: PictureLook, path: string, payerOf: ReadonlyMap<string, string>): RuleInput[] =>
  [...lower(look.pictures, look), ...lower(look.frames, look)].map(({ url, isOwn, on }) => ({
    addon: payerOf.get(url) ?? 'content',
    file: isOwn ? new URL(url).pathname : url,
    effect: 'hold' as const,
    until: 'seen' as const,
    place: { level: 'page' as const, path },
    ...(on && { condition: { device: on } }),
  }))
