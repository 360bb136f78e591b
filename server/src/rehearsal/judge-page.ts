import type { Sequelize } from 'sequelize'
import { judgeGuards, type GuardLook, type PictureChange } from '@unvelt/core'
import { comparePictures } from '../picture/compare-pictures.js'
import { keptPictures, type RehearsedPlace } from './picture-store.js'
import type { RehearsalPageRow, RehearsedReading } from './rehearsal.model.js'

/** Where more of a page than this moves by itself, its pictures tell nothing. */
const MOST_MOVING = 0.5

/** What the guards say of a page, once all its readings are there. */
export async function judgePage(
  sequelize: Sequelize,
  place: RehearsedPlace,
  readings: readonly RehearsedReading[],
): Promise<Pick<RehearsalPageRow, 'guards' | 'boxes'>> {
  const pictures = await keptPictures(sequelize, place)
  const of = (side: RehearsedReading['side']) =>
    readings.flatMap((reading) => (reading.side === side ? (pictures.get(reading.turn) ?? []) : []))
  return judgeLooks(looksOf(readings), [of('without'), of('with')])
}

/** What the guards say of what was seen without drafts and with them, and how it looked (JPEG). */
export async function judgeLooks(
  looks: [without: GuardLook[], withDrafts: GuardLook[]],
  pictures: [without: Buffer[], withDrafts: Buffer[]],
): Promise<Pick<RehearsalPageRow, 'guards' | 'boxes'>> {
  const change = await leastChange(...pictures)
  const isAside = change !== null && change.moving > MOST_MOVING
  return {
    guards: judgeGuards(...looks, isAside ? 'aside' : change && [change.share]),
    boxes: change && !isAside ? change.boxes : [],
  }
}

/** What the readings of a page saw, without the drafts and with them. */
export function looksOf(readings: readonly RehearsedReading[]): [without: GuardLook[], withDrafts: GuardLook[]] {
  const of = (side: RehearsedReading['side']) =>
    readings.flatMap((reading) => (reading.side === side && reading.look ? [reading.look] : []))
  return [of('without'), of('with')]
}

async function leastChange(without: Buffer[], withDrafts: Buffer[]): Promise<PictureChange | null> {
  if (without.length === 0) return null
  // What the drafts do shows each time, so the picture that differs least tells it.
  let least: PictureChange | null = null
  for (const picture of withDrafts) {
    const change = await comparePictures({ without, withRules: picture })
    if (change && (!least || change.share < least.share)) least = change
  }
  return least
}
