import { Injectable } from '@nestjs/common'
import { attribute } from '@unvelt/core'
import {
  WITHOUT_REPEATS,
  type OutsiderGroup,
  type Without,
  type WithoutRequest,
  type WithoutView,
} from '@unvelt/contract'
import type { OnDemand } from '../on-demand/on-demand.model.js'
import { OnDemandService } from '../on-demand/on-demand.service.js'
import { ProblemError } from '../problem/problem.error.js'
import { compared } from '../proof/compared.js'
import { middleReading } from '../rule/prediction.service.js'
import type { SiteRow } from '../site/site.model.js'
import { SweepService } from '../sweep/sweep.service.js'

const FIGURES = [
  'requests',
  'transferBytes',
  'decodedBytes',
  'mainThreadMs',
  'loadMs',
  'largestPaintMs',
  'blockingMs',
] as const
const MOST_SHOWN = 10

/** Reads pages without their outsiders, or without some, to see what these cost in truth. */
@Injectable()
export class WithoutService {
  constructor(
    private readonly onDemand: OnDemandService,
    private readonly sweeps: SweepService,
  ) {}

  async view(site: SiteRow, pageId: number): Promise<WithoutView> {
    await this.onDemand.needPage(site.id, pageId)
    const rows = await this.onDemand.newest('without', { siteId: site.id, pageId }, MOST_SHOWN)
    return { groups: await this.groups(site, pageId), taken: rows.map((row) => withoutView(row, site.leastDifference)) }
  }

  async start(site: SiteRow, pageId: number, { payers = [], repeats }: WithoutRequest): Promise<WithoutView> {
    await this.onDemand.needPage(site.id, pageId)
    // A sweep beside it would disturb both.
    await this.sweeps.refuseWhileRunning(site.id)
    const groups = await this.groups(site, pageId)
    const missing = payers.find((payer) => !groups.some((group) => group.payer === payer))
    if (missing !== undefined) throw new ProblemError(422, `${missing} brings nothing from outside to this page.`)
    const chosen = payers.length === 0 ? groups : groups.filter(({ payer }) => payers.includes(payer))
    if (chosen.length === 0) throw new ProblemError(422, 'The page has no outsiders, as far as it has been read.')
    const hosts = [...new Set(chosen.flatMap((group) => group.hosts))].sort()
    await this.onDemand.start(
      'without',
      { siteId: site.id, pageId },
      { payers, hosts, repeats: repeats ?? WITHOUT_REPEATS },
      'This page is being read without outsiders already.',
    )
    return this.view(site, pageId)
  }

  /** Whose files come from other hosts, by the last sweep that is shown. */
  private async groups(site: SiteRow, pageId: number): Promise<OutsiderGroup[]> {
    const sweep = await this.sweeps.toShow(site.id)
    const reading = sweep && (await middleReading(sweep, pageId))
    if (!reading) return []
    const { requests } = attribute(reading, sweep.sources)
    const groups = new Map<string, OutsiderGroup>()
    for (const { id, url } of reading.requests) {
      const { host } = new URL(url)
      if (site.ownHosts.includes(host)) continue
      const { payer } = requests.get(id)!
      const group = groups.get(payer) ?? { payer, hosts: [], requests: 0 }
      group.requests++
      if (!group.hosts.includes(host)) group.hosts.push(host)
      groups.set(payer, group)
    }
    return [...groups.values()].sort((a, b) => b.requests - a.requests)
  }
}

function withoutView(
  { id, wish, taken: sides, state, takenAt, failure }: OnDemand<'without'>,
  leastShare: number,
): Without {
  const { payers, hosts, repeats } = wish
  const known = new Set(sides.with.flatMap(({ complaints }) => complaints))
  const values = (side: 'with' | 'without', figure: (typeof FIGURES)[number]) =>
    sides[side].flatMap((figures) => figures[figure] ?? [])
  const measured = FIGURES.map((measure) => ({
    measure,
    before: values('with', measure),
    after: values('without', measure),
  }))
  const figures = compared(measured, leastShare)
  return {
    id,
    payers,
    hosts,
    underWay: state === 'done' ? 0 : 2 * repeats - sides.with.length - sides.without.length,
    takenAt: takenAt.toISOString(),
    failure,
    figures: Object.fromEntries(FIGURES.map((measure, n) => [measure, figures[n]!])),
    complaints: [...new Set(sides.without.flatMap(({ complaints }) => complaints))].filter((text) => !known.has(text)),
  }
}
