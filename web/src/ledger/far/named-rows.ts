/** Rows so high all have their name; where they are lower, names stand well apart, so that nobody takes them for all. In pixels. */
export const LEAST_NAMED_PX = 9.5
export const APART_PX = 24

/**
 * The rows in sight whose names are written: that which is told of, groups, and of all others as many as can be read, the same ones
 * wherever the window stands.
 * @param height Of a row, in pixels.
 */
export function namedRows(
  count: number,
  { first, last }: { first: number; last: number },
  height: number,
  told: number | null,
  isGroup: (row: number) => boolean,
): number[] {
  const every = height >= LEAST_NAMED_PX ? 1 : Math.ceil(APART_PX / height)
  const from = Math.max(0, Math.floor(first))
  const to = Math.min(count - 1, Math.ceil(last))
  const named: number[] = []
  const isFree = (row: number) => named.every((other) => Math.abs(other - row) >= every)
  const inSight = Array.from({ length: Math.max(0, to - from + 1) }, (_, n) => from + n)
  if (told !== null && told >= from && told <= to) named.push(told)
  for (const row of inSight) if (isGroup(row) && isFree(row)) named.push(row)
  for (const row of inSight) if (row % every === 0 && isFree(row)) named.push(row)
  return named.sort((a, b) => a - b)
}
