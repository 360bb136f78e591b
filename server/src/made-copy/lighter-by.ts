import type { LighterBy, ResolvedEffect } from '@unvelt/core'
import { MadeCopyRow } from './made-copy.model.js'

/** By what copies that effects name are lighter than the files that they stand in for, by the hash of their content. */
export async function lighterBy(
  siteId: number,
  effects: readonly Pick<ResolvedEffect, 'copy'>[],
): Promise<Record<string, LighterBy>> {
  const content = effects.flatMap(({ copy }) => copy?.content ?? [])
  if (content.length === 0) return {}
  const rows = await MadeCopyRow.findAll({ where: { siteId, content }, attributes: ['content', 'lighterBy'] })
  return Object.fromEntries(rows.map((row) => [row.content, row.lighterBy]))
}
