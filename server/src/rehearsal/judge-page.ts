import type { Sequelize } from 'sequelize'
import { judgeAlone, judgeGuards, type GuardLook } from '@unvelt/core'
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
  const [without, withRules] = pictures
  const change = without.length > 0 && withRules.length > 0 ? await comparePictures({ without, withRules }) : null
  // A page that nothing was seen of before is judged by itself.
  if (looks[0].length === 0) return { guards: judgeAlone(looks[1]), boxes: [] }
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
