import { nextOf, type CauseStage } from '@unvelt/core'
import type { CauseSearch, CauseStageView } from '@unvelt/contract'
import { AddOnRow } from '../add-on/add-on.model.js'
import { LensRow } from '../lens/lens.model.js'
import { guiltyOf, SURE } from './cause-way.js'
import type { CauseSearchRow } from './cause.model.js'

/** A search as it is shown, with the names that its site gives. */
export async function causeView(row: CauseSearchRow): Promise<CauseSearch> {
  const [lens, addOns] = await Promise.all([
    LensRow.findByPk(row.lensId, { paranoid: false }),
    AddOnRow.findAll({ where: { siteId: row.siteId }, attributes: ['slug', 'name', 'version', 'features'] }),
  ])
  const bySlug = new Map(addOns.map((addOn) => [addOn.slug, addOn]))
  return {
    id: row.id,
    pageId: row.pageId,
    lensId: row.lensId,
    lens: lens?.name ?? '',
    kind: row.kind,
    text: row.text,
    guard: row.found?.guard ?? null,
    roundId: row.roundId ?? null,
    state: row.state,
    failure: row.failure,
    stages: row.stages.map((stage) => stageView(stage, row, bySlug)),
    place: row.place,
    guilty: guiltyOf(row).map((slug) => ({
      slug,
      name: nameOf(slug, bySlug),
      version: bySlug.get(slug)?.version ?? null,
    })),
    startedAt: row.startedAt.toISOString(),
    finishedAt: row.finishedAt?.toISOString() ?? null,
  }
}

type AddOns = ReadonlyMap<string, Pick<AddOnRow, 'name' | 'features'>>

const nameOf = (slug: string, addOns: AddOns) => addOns.get(slug)?.name ?? slug.replace(/^(outside|own):/, '')

function stageView(stage: CauseStage, search: CauseSearchRow, addOns: AddOns): CauseStageView {
  const next = search.state === 'running' && stage.outcome === null ? nextOf(stage, SURE) : null
  const features = addOns.get(guiltyOf(search)[0] ?? '')?.features ?? []
  const name = (id: string) =>
    stage.level === 'feature'
      ? (features.find(({ slug }) => slug === id)?.name ?? id)
      : stage.level === 'file' || stage.level === 'version'
        ? id
        : nameOf(id, addOns)
  return {
    level: stage.level,
    mends: stage.mends === true,
    suspects: stage.suspects,
    names: stage.suspects.map(({ id }) => name(id)),
    tries: stage.tries.map(({ changes, fails, readings = 1 }) => ({ changes: [...changes], fails, readings })),
    asking: next && 'ask' in next ? next.ask : null,
    outcome: stage.outcome,
    found: stage.found,
  }
}
