import { Op, type Sequelize } from 'sequelize'
import { packReadings, unpackReadings } from './reading-pack.js'
import { ReadingRow } from './reading.model.js'

/** Puts what is kept of a page's repeats together, in the first of them. */
export async function packRepeats(
  sequelize: Sequelize,
  place: { sweepId: number; pageId: number; variant: string },
): Promise<void> {
  const apart = await ReadingRow.count({ where: { ...place, detail: { [Op.ne]: null } } })
  if (apart < 2) return
  await sequelize.transaction(async (transaction) => {
    const rows = await ReadingRow.findAll({
      where: { ...place, [Op.or]: [{ detail: { [Op.ne]: null } }, { detailIn: { [Op.ne]: null } }] },
      order: ['repeat'],
      lock: transaction.LOCK.UPDATE,
      transaction,
    })
    const readings = new Map<number, string>()
    for (const { detail, repeat } of rows) {
      if (!detail) continue
      for (const [of, reading] of await unpackReadings(detail, repeat)) readings.set(of, JSON.stringify(reading))
    }
    const [first, ...others] = rows
    if (!first || others.length === 0) return
    await first.update({ detail: await packReadings(inOrder(readings)), detailIn: null }, { transaction })
    await ReadingRow.update(
      { detail: null, detailIn: first.repeat },
      { where: { id: { [Op.in]: others.map(({ id }) => id) } }, transaction },
    )
  })
}

const inOrder = (readings: ReadonlyMap<number, string>) => new Map([...readings].sort(([a], [b]) => a - b))
