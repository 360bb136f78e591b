import { median } from '@unvelt/core'
import type { LoadedFigures } from '@unvelt/contract'
import type { RehearsedReading } from '../rehearsal/rehearsal.model.js'

/** What some readings of a page asked for until it had loaded, in the middle of them. */
export function loaded(figures: readonly RehearsedReading['figures'][]): LoadedFigures {
  const middle = (name: 'requests' | 'transferBytes') => {
    const values = figures.flatMap((one) => one[name] ?? [])
    return values.length === 0 ? 0 : median(values)
  }
  return { requests: middle('requests'), transferBytes: middle('transferBytes') }
}
