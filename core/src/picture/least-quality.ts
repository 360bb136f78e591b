/** What came of re-making a picture at one quality. */
export interface TriedQuality {
  quality: number
  /** Structural similarity to the picture that it was made of, 1 for the same (Wang, Bovik, Sheikh and Simoncelli 2004). */
  similarity: number
}

/**
 * The lowest of the qualities at which a picture is still as similar to its original as is asked for, by halving: similarity
 * grows with quality.
 * @param qualities In rising order.
 * @returns null where not even the highest is similar enough.
 */
export async function leastQuality<T extends TriedQuality>(
  qualities: readonly number[],
  bound: number,
  make: (quality: number) => Promise<T>,
): Promise<T | null> {
  let found: T | null = null
  let low = 0
  let high = qualities.length - 1
  while (low <= high) {
    const middle = (low + high) >> 1
    const tried = await make(qualities[middle]!)
    if (tried.similarity >= bound) {
      found = tried
      high = middle - 1
    } else low = middle + 1
  }
  return found
}
