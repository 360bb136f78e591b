import { retireOrder, type RetireCase } from '@unvelt/core'
import type { OutsideOfSweep } from '../outside/outside-of-sweep.js'
import type { RetirementRow } from './retirement.model.js'
import type { Known } from './retirement-sheets.js'

/** With what lies on the disk, and what was decided. */
export function casesOf({ cases, addOns }: Known, outside: OutsideOfSweep | null): RetireCase[] {
  const hosts = new Map(outside?.payers.map(({ payer, hosts }) => [payer, hosts]))
  const bySlug = new Map(addOns.map((addOn) => [addOn.slug, addOn]))
  return cases.flatMap((each) => {
    const addOn = bySlug.get(each.slug)
    if (!addOn) return []
    const { verdict } = addOn.verdict
    return [
      {
        ...each,
        diskBytes: addOn.files.reduce((sum, { bytes }) => sum + bytes, 0),
        tables: addOn.tables,
        settings: addOn.settings.length,
        waitsFor: hosts.get(each.slug) ?? [],
        tasks: addOn.tasks.map(({ name }) => name),
        since: addOn.since ? new Date(addOn.since) : null,
        decided: verdict === 'retire' || verdict === 'replace' ? addOn.verdict.why || verdict : null,
      },
    ]
  })
}

/** Of those on the way whoever needs another stands before it; what is over comes behind. */
export function inTheirOrder(rows: RetirementRow[], { addOns }: Known): RetirementRow[] {
  const open = rows.filter(({ finishedAt }) => finishedAt === null)
  const needs = new Map(addOns.map(({ slug, needs }) => [slug, needs]))
  const order = retireOrder(
    open.map(({ slug }) => slug),
    needs,
  )
  const sorted = [...open].sort((a, b) => order.indexOf(a.slug) - order.indexOf(b.slug))
  return [...sorted, ...rows.filter(({ finishedAt }) => finishedAt !== null)]
}
