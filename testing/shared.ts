/** What several tests look at and none changes: made for the first one that asks, and again where that failed. */
export function shared<T>(make: () => Promise<T>): () => Promise<T> {
  let made: Promise<T> | undefined
  return () =>
    (made ??= make().catch((error: unknown) => {
      made = undefined
      throw error
    }))
}
