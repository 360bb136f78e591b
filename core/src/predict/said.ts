import { canonicalEntry } from '../attribution/canonical.js'
import { GOES } from '../rewrite/stop-list.js'
import type { LighterBy, PredictedEffect } from './predict.js'

/** What an effect does with a thing, as far as a prediction minds. */
export type Way = 'leave-out' | 'skip' | 'hold' | 'order' | 'order-end' | 'copy' | 'stays'

export interface Saying {
  way: Way
  /** For a copy: by what it is lighter. */
  less?: LighterBy
}

/** What is said of add-ons and their files on some pages. */
export interface Said {
  addOns: ReadonlyMap<string, Saying>
  /** Add-on → canonical name of a file; what is said of a file stands before what is said of its add-on. */
  files: ReadonlyMap<string, ReadonlyMap<string, Saying>>
}

/** @param madeCopies What copies that were made are lighter by, by the hash of their content. */
export function saidBy(
  effects: readonly PredictedEffect[],
  madeCopies: Readonly<Record<string, LighterBy>> = {},
): Said {
  const addOns = new Map<string, Saying>()
  const files = new Map<string, Map<string, Saying>>()
  for (const each of effects) {
    if (each.feature !== undefined || each.setting !== undefined) continue
    const saying = sayingOf(each, madeCopies)
    if (each.file === undefined) {
      addOns.set(each.addon, saying)
      continue
    }
    const ofAddOn = files.get(each.addon) ?? new Map<string, Saying>()
    ofAddOn.set(canonicalEntry(each.file), saying)
    files.set(each.addon, ofAddOn)
  }
  return { addOns, files }
}

function sayingOf({ effect, order, copy }: PredictedEffect, madeCopies: Readonly<Record<string, LighterBy>>): Saying {
  if (GOES.has(effect)) return { way: effect === 'skip' ? 'skip' : 'leave-out' }
  if (effect === 'hold') return { way: 'hold' }
  if (effect === 'order') return { way: order === 'end' ? 'order-end' : 'order' }
  const content = effect === 'local' ? copy?.content : undefined
  const less = content !== undefined && Object.hasOwn(madeCopies, content) ? madeCopies[content] : undefined
  return less ? { way: 'copy', less } : { way: 'stays' }
}
