import type { GroupTable } from './page-groups.js'
import type { PackedGroups } from './packed-page.js'

/** Groups as columns of numbers; only some of them, where it says which. */
export function packGroups(groups: GroupTable, isIn?: (group: number) => boolean): PackedGroups {
  const rows: number[] = []
  for (let group = 0; group < groups.when.length; group++) if (!isIn || isIn(group)) rows.push(group)
  const columns: PackedGroups['columns'] = []
  groups.figures.forEach((column, measure) => {
    if (column.length === 0) return
    const values = new Float64Array(rows.length)
    let any = false
    // Half as much to go through wherever whole numbers say it all.
    let isWhole = true
    for (let n = 0; n < rows.length; n++) {
      const figure = column[rows[n]!]!
      values[n] = figure
      any ||= figure !== 0
      isWhole &&= Number.isInteger(figure) && Math.abs(figure) < 2 ** 31
    }
    if (any) columns.push({ measure, values: isWhole ? Int32Array.from(values) : values })
  })
  const when = new Int32Array(rows.length)
  for (let n = 0; n < rows.length; n++) when[n] = groups.when[rows[n]!]!
  const before = (end: number) => {
    const first = rows.findIndex((group) => group >= end)
    return first < 0 ? rows.length : first
  }
  return { when, columns, own: before(groups.own), inline: before(groups.inline) }
}
