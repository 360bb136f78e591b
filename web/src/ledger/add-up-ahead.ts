import { useEffect } from 'react'
import { MEASURES } from '@unvelt/contract'
import type { Sheet } from './sheet.js'

/** Adds up the measures that aren't shown while the browser has nothing else to do, so that a change of measure is quick. */
export function useAddUpAhead(sheet: Sheet): void {
  useEffect(() => {
    const left = [...MEASURES]
    let asked = 0
    const next = () => {
      const measure = left.shift()
      if (measure === undefined) return
      sheet.margins(measure)
      asked = requestIdleCallback(next)
    }
    asked = requestIdleCallback(next)
    return () => cancelIdleCallback(asked)
  }, [sheet])
}
