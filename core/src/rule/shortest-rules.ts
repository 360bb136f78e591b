import type { Area, Place, RulePage } from './rule.js'

/** A rule's place, and whether it takes or is an exception from a broader one. */
export interface PlacedRule {
  place: Place
  keeps: boolean
}

/** The fewest rules that mean just these pages, and what they would catch beside them. */
export interface ShortestRules {
  rules: PlacedRule[]
  /** How many paths are listed in them. */
  paths: number
  /** What they hold for that nobody selected, since it is not there yet, or is not looked at. */
  catches: {
    /** Pages that are yet to come: of these kinds, in these areas, or anywhere. */
    later: { kinds: string[]; areas: Area[]; anywhere: boolean }
    /** Pages of the back office, known ones or such to come. */
    office: boolean
  }
}

/** What a path that is listed weighs beside a rule: eight of them are as long as a rule more. */
const PATH_WEIGHT = 0.125

type Say = 'on' | 'off' | null
const AREAS: readonly Area[] = ['public', 'office']
const SAYS: readonly Say[] = [null, 'on', 'off']

/**
 * Finds the rules for a selection of pages: on everywhere, in an area, on kinds or on listed pages, with exceptions by the
 * same. Whatever is found means the selected ones of the known pages and no other. Exact over these forms: each combination
 * of the broad ones is tried, and kinds are settled one by one, since none has to do with another.
 * @param pages All pages that are known, each path once.
 * @param isSelected By place in `pages`.
 */
export function shortestRules(pages: readonly RulePage[], isSelected: (index: number) => boolean): ShortestRules {
  const kinds = counted(pages, isSelected)
  let best: Plan | null = null
  for (const everywhere of [null, 'on'] as const)
    for (const isPublic of SAYS)
      for (const office of SAYS)
        for (const listsOn of [false, true])
          for (const listsOff of [false, true]) {
            const broad: Broad = { everywhere, public: isPublic, office }
            const plan = planFor(kinds, broad, { on: listsOn, off: listsOff }, best?.cost ?? Infinity)
            if (plan && (!best || plan.cost < best.cost)) best = plan
          }
  return told(best!, kinds, pages, isSelected)
}

interface Broad {
  everywhere: Say
  public: Say
  office: Say
}

/** How many pages of a kind there are in an area, selected and not. */
interface Kind {
  name: string
  count: Record<Area, { on: number; off: number }>
}

interface Plan {
  broad: Broad
  kinds: Say[]
  cost: number
}

/** The kinds of a list of pages, and of which each is: the same list is asked about many times. */
interface Kinds {
  names: string[]
  of: Uint32Array
}
const kindsOfLists = new WeakMap<readonly RulePage[], Kinds>()

function kindsOf(pages: readonly RulePage[]): Kinds {
  let known = kindsOfLists.get(pages)
  if (known) return known
  const numbers = new Map<string, number>()
  const of = Uint32Array.from(pages, ({ kind }) => {
    const number = numbers.get(kind) ?? numbers.size
    numbers.set(kind, number)
    return number
  })
  known = { names: [...numbers.keys()], of }
  kindsOfLists.set(pages, known)
  return known
}

function counted(pages: readonly RulePage[], isSelected: (index: number) => boolean): Kind[] {
  const { names, of } = kindsOf(pages)
  const kinds = names.map((name): Kind => ({ name, count: { public: { on: 0, off: 0 }, office: { on: 0, off: 0 } } }))
  for (let n = 0; n < pages.length; n++) kinds[of[n]!]!.count[pages[n]!.area][isSelected(n) ? 'on' : 'off']++
  return kinds
}

/** What holds for pages of an area and a kind before any of them is listed. */
const broadly = (broad: Broad, area: Area, kind: Say): 'on' | 'off' => kind ?? broad[area] ?? broad.everywhere ?? 'off'

/** An exception from nothing says nothing. */
const isIdle = ({ everywhere, public: isPublic, office }: Broad) =>
  everywhere === null && (isPublic === 'off' || office === 'off')

/** Null where it can't be said so, or costs no less than what is known. */
function planFor(
  kinds: readonly Kind[],
  broad: Broad,
  lists: { on: boolean; off: boolean },
  most: number,
): Plan | null {
  if (isIdle(broad)) return null
  let cost = [broad.everywhere, broad.public, broad.office].filter((say) => say !== null).length
  cost += Number(lists.on) + Number(lists.off)
  const chosen: Say[] = []
  for (const kind of kinds) {
    let least = Infinity
    let choice: Say = null
    for (const say of SAYS) {
      const own = (say === null ? 0 : 1) + listed(kind, broad, say, lists)
      if (own < least) {
        least = own
        choice = say
      }
    }
    cost += least
    if (cost >= most) return null
    chosen.push(choice)
  }
  return { broad, kinds: chosen, cost }
}

/** What the pages of a kind weigh that have to be listed; infinite where they may not be. */
function listed({ count }: Kind, broad: Broad, say: Say, lists: { on: boolean; off: boolean }): number {
  let paths = 0
  for (const area of AREAS) {
    const wanted = broadly(broad, area, say) === 'on' ? 'off' : 'on'
    const of = count[area][wanted]
    if (of > 0 && !lists[wanted]) return Infinity
    paths += of
  }
  return PATH_WEIGHT * paths
}

function told(
  { broad, kinds: says }: Plan,
  kinds: readonly Kind[],
  pages: readonly RulePage[],
  isSelected: (index: number) => boolean,
): ShortestRules {
  const rules: PlacedRule[] = []
  const put = (say: Say, place: Place) => {
    if (say !== null) rules.push({ place, keeps: say === 'off' })
  }
  put(broad.everywhere, { level: 'everywhere' })
  put(broad.public, { level: 'area', area: 'public' })
  put(broad.office, { level: 'area', area: 'office' })
  kinds.forEach(({ name }, n) => put(says[n]!, { level: 'kind', kind: name }))
  const lists = { on: [] as string[], off: [] as string[] }
  const { of } = kindsOf(pages)
  pages.forEach(({ path, area }, n) => {
    const wanted = isSelected(n) ? 'on' : 'off'
    if (broadly(broad, area, says[of[n]!]!) !== wanted) lists[wanted].push(path)
  })
  for (const say of ['on', 'off'] as const)
    if (lists[say].length > 0)
      put(say, lists[say].length === 1 ? { level: 'page', path: lists[say][0]! } : { level: 'set', paths: lists[say] })
  const takes = rules.filter(({ keeps }) => !keeps).map(({ place }) => place)
  const anywhere = takes.some(({ level }) => level === 'everywhere')
  const areas = takes.flatMap((place) => (place.level === 'area' ? [place.area] : []))
  const taken = takes.flatMap((place) => (place.level === 'kind' ? [place.kind] : []))
  const isInOffice = ({ name, count: { office } }: Kind) =>
    (taken.includes(name) && office.on + office.off > 0) || office.on > 0
  return {
    rules,
    paths: lists.on.length + lists.off.length,
    catches: {
      later: { kinds: taken, areas, anywhere },
      office: (anywhere && broad.office !== 'off') || areas.includes('office') || kinds.some(isInOffice),
    },
  }
}
