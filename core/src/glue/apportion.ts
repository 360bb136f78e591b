/**
 * Shares a whole number out by weights, in whole numbers that add up to it exactly (largest remainder; of two equal
 * remainders the earlier one is served first). Without any weight everything goes to the first.
 */
export function apportion(total: number, weights: readonly number[]): number[] {
  const sum = weights.reduce((all, weight) => all + weight, 0)
  if (weights.length === 0) return []
  if (sum === 0) return weights.map((_, n) => (n === 0 ? total : 0))
  const exact = weights.map((weight) => (total * weight) / sum)
  const shares = exact.map(Math.floor)
  const left = total - shares.reduce((all, share) => all + share, 0)
  const order = exact
    .map((value, n) => ({ n, rest: value - Math.floor(value) }))
    .sort((a, b) => b.rest - a.rest || a.n - b.n)
  for (let i = 0; i < left; i++) shares[order[i % order.length]!.n]! += 1
  return shares
}
