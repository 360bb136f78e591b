/** A library on a page, and who of the page needs it; numbers are places in the page's payers. */
export interface PackedLibrary {
  at: number
  neededBy: number[]
  /** Nobody on the page needs it, or only libraries that nobody else needs either. */
  isForItself: boolean
}

const NOT = 0
const LEFT_OUT = 1
const SKIPPED = 2

/** The same as `unloading`, over numbers: libraries stay as long as somebody who stays needs them. */
export function settleLibraries(libraries: readonly PackedLibrary[], gone: Uint8Array): void {
  const named = libraries.map(({ at }) => (gone[2 * at + 1] === 1 ? SKIPPED : gone[2 * at] === 1 ? LEFT_OUT : NOT))
  for (const { at } of libraries) gone[2 * at] = 1
  const stays = new Uint8Array(libraries.length)
  for (let changed = true; changed;) {
    changed = false
    libraries.forEach(({ at, neededBy, isForItself }, n) => {
      if (stays[n] === 1) return
      if (!(isForItself && named[n] === NOT) && neededBy.every((payer) => gone[2 * payer] === 1)) return
      stays[n] = 1
      gone[2 * at] = gone[2 * at + 1] = 0
      changed = true
    })
  }
  // A library that goes with others goes their way: it is not run only where none of them is.
  const way = libraries.map((_, n) => (stays[n] === 1 ? NOT : named[n]!))
  const place = new Map(libraries.map(({ at }, n) => [at, n]))
  const wayOf = (payer: number) => {
    const library = place.get(payer)
    return library !== undefined
      ? way[library]!
      : gone[2 * payer + 1] === 1
        ? SKIPPED
        : gone[2 * payer] === 1
          ? LEFT_OUT
          : NOT
  }
  for (let changed = true; changed;) {
    changed = false
    libraries.forEach(({ neededBy }, n) => {
      if (stays[n] === 1 || named[n] !== NOT || way[n] === LEFT_OUT) return
      const ways = neededBy.map(wayOf).filter((one) => one !== NOT)
      const now = ways.length === 0 ? NOT : ways.every((one) => one === SKIPPED) ? SKIPPED : LEFT_OUT
      if (now === way[n] || now === NOT) return
      way[n] = now
      changed = true
    })
  }
  libraries.forEach(({ at }, n) => {
    gone[2 * at] = way[n] === NOT ? 0 : 1
    gone[2 * at + 1] = way[n] === SKIPPED ? 1 : 0
  })
}

export function packedLibraries(
  payers: readonly string[],
  needs: Record<string, string[]>,
  isLibrary: ReadonlySet<string>,
): PackedLibrary[] {
  const place = new Map(payers.map((payer, n) => [payer, n]))
  const neededBy = new Map<number, Set<number>>()
  payers.forEach((payer, n) => {
    for (const library of Object.hasOwn(needs, payer) ? needs[payer]! : []) {
      const at = place.get(library)
      if (at === undefined || at === n || !isLibrary.has(library)) continue
      neededBy.set(at, (neededBy.get(at) ?? new Set()).add(n))
    }
  })
  const libraries = payers.flatMap((payer, at) => (isLibrary.has(payer) ? [at] : []))
  const reached = new Set(payers.flatMap((payer, n) => (isLibrary.has(payer) && neededBy.has(n) ? [] : [n])))
  for (let changed = true; changed;) {
    changed = false
    for (const at of libraries)
      if (!reached.has(at) && [...(neededBy.get(at) ?? [])].some((needer) => reached.has(needer))) {
        reached.add(at)
        changed = true
      }
  }
  return libraries.map((at) => ({
    at,
    neededBy: [...(neededBy.get(at) ?? [])],
    isForItself: !neededBy.has(at) || !reached.has(at),
  }))
}
