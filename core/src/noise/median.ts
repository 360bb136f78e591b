/** The median of the values; the mean of the two middle ones when their number is even. NaN when there are none. */
export function median(values: readonly number[]): number {
  if (values.length === 0) return NaN
  const sorted = [...values].sort((a, b) => a - b)
  const middle = sorted.length >> 1
  return sorted.length % 2 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2
}

/** The place of the lower median, the earliest among equals. -1 when there are no values. */
export function medianIndex(values: readonly number[]): number {
  const order = values.map((value, index) => ({ value, index })).sort((a, b) => a.value - b.value || a.index - b.index)
  const middle = order[(order.length - 1) >> 1]
  return middle ? values.indexOf(middle.value) : -1
}
