import { MEASURES } from '@unvelt/contract'
import { noFigures, type Figures, type Matrix } from './matrix.js'
import { boundsOf, type Selection } from './selection.js'

/** The selected tolls summed, and the sum of the pages they are on. */
export function selectedFigures(matrix: Matrix, selection: Selection): { tolls: Figures; pages: Figures } {
  const { top, bottom, left, right } = boundsOf(selection)
  const tolls = noFigures()
  const pages = noFigures()
  for (let column = left; column <= right; column++) {
    for (const measure of MEASURES) pages[measure] += matrix.columnTotals[column]![measure]
    for (let row = top; row <= bottom; row++) {
      const cell = matrix.cell(row, column)
      if (cell) for (const measure of MEASURES) tolls[measure] += cell[measure]
    }
  }
  return { tolls, pages }
}
