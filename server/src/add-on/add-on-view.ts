import type { AddOn, AddOnChange, Verdict } from '@unvelt/contract'
import type { AddOnRow } from './add-on.model.js'

export const UNDECIDED: Verdict = { verdict: 'undecided', why: '', who: '', at: '1970-01-01T00:00:00.000Z' }

/** Facts that somebody may know better than the site does. */
const OPEN_TO_ALL = ['name', 'kind', 'version', 'author', 'summary', 'jobs'] as const
/** Facts that only people know. */
const PEOPLE_ONLY = ['owner', 'purpose', 'worth'] as const

/**
 * An entry as it is shown: the maintainer's own word over the site's, the site's over an imported list's. Each fact says
 * where it comes from.
 */
export function addOnView(row: AddOnRow, verdict: Verdict | undefined, openQuestions: number): AddOn {
  const { byHand, imported } = row
  const from: Record<string, string> = {}
  const pick = (fact: keyof AddOnChange, told: unknown): unknown => {
    const [source, value] = isSaid(byHand[fact])
      ? ['hand', byHand[fact]]
      : isSaid(told)
        ? [row.source, told]
        : isSaid(imported[fact])
          ? ['import', imported[fact]]
          : [null, told]
    if (source) from[fact] = source
    return value
  }
  const told = Object.fromEntries(OPEN_TO_ALL.map((fact) => [fact, pick(fact, row[fact])])) as Pick<
    AddOn,
    (typeof OPEN_TO_ALL)[number]
  >
  const people = Object.fromEntries(PEOPLE_ONLY.map((fact) => [fact, pick(fact, '') ?? ''])) as Pick<
    AddOn,
    (typeof PEOPLE_ONLY)[number]
  >
  return {
    id: row.id,
    slug: row.slug,
    ...told,
    ...people,
    source: row.source,
    needs: row.needs,
    library: row.library,
    canSkip: row.canSkip,
    active: row.active,
    since: row.since?.toISOString() ?? null,
    versions: row.versions,
    features: row.features,
    settings: row.settings,
    tables: row.tables,
    tasks: row.tasks,
    works: row.works,
    insertedBy: row.insertedBy,
    files: row.files,
    outsideHosts: row.outsideHosts,
    gone: row.gone,
    blocks: row.blocks,
    from,
    verdict: verdict ?? UNDECIDED,
    openQuestions,
  }
}

const isSaid = (value: unknown): boolean =>
  value !== undefined && value !== null && value !== '' && !(Array.isArray(value) && value.length === 0)
