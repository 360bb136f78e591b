import { Op } from 'sequelize'
import { couldWeigh, type RequestRecord, type RequestType } from '@unvelt/core'
import type { CodeType } from '@unvelt/contract'
import { weighFile } from '../file-look/weigh-file.js'
import { OnDemandRow, type FilesTaken, type OnDemand } from '../on-demand/on-demand.model.js'
import { keepPromises } from '../promise/keep-promises.js'
import { reachOf } from '../reach/reach.js'
import { ReadingFailure } from '../reading/failure.js'
import { readDetail } from '../reading/reading-store.js'
import { ReadingRow } from '../reading/reading.model.js'
import type { OnDemandTools } from './read-on-demand.js'

/** So many files are looked at, the heaviest first. */
const MOST_FILES = 120

/**
 * Asks for each script and style of a page's newest reading once more, packs and minifies it. Whoever goes on after a kill goes on
 * behind the last that was kept.
 */
export async function readFiles(tools: OnDemandTools, { id, siteId, pageId, taken }: OnDemand<'files'>): Promise<void> {
  const { site, keep, turns } = tools
  const found = await codeOf(pageId!)
  const asked = found.slice(0, MOST_FILES)
  const told: FilesTaken = { toLookAt: asked.length, leftOut: found.length - asked.length, files: taken.files }
  await keep(told)
  for (const { url, type } of asked.slice(taken.files.length)) {
    const isOwn = site.ownHosts.includes(new URL(url).host)
    // Times that are taken beside it would be none.
    told.files.push(await turns.beside(() => weighFile({ url, type, isOwn }, reachOf(site))))
    await keep(told)
  }
  const said = told.files.map((file) => {
    const { byPacking, byMinifying } = couldWeigh(file)
    return { url: file.url, bytes: file.bytes, saving: byPacking + byMinifying }
  })
  await keepPromises(tools.sequelize, siteId, 'file', said)
  await OnDemandRow.destroy({ where: { siteId, pageId, kind: 'files', state: 'done', id: { [Op.lt]: id } } })
}

const TYPES: Partial<Record<RequestType, CodeType>> = { script: 'script', style: 'stylesheet' }

async function codeOf(pageId: number): Promise<{ url: string; type: CodeType }[]> {
  const row = await ReadingRow.findOne({
    where: { pageId, failure: null, variant: 'live', detail: { [Op.ne]: null } },
    order: [
      ['sweepId', 'desc'],
      ['repeat', 'asc'],
    ],
  })
  if (!row) throw new ReadingFailure('The page has not been read yet: sweep it first.')
  return codeAmong((await readDetail(row)).requests)
}

/** The scripts and styles among what a page asked for, each once, the heaviest first. */
export function codeAmong(
  requests: readonly Pick<RequestRecord, 'url' | 'type' | 'status' | 'method' | 'decodedBytes'>[],
): { url: string; type: CodeType }[] {
  const weights = new Map<string, { type: CodeType; bytes: number }>()
  for (const { url, type: asked, status, method, decodedBytes } of requests) {
    const type = TYPES[asked]
    if (type && status === 200 && method === 'GET' && /^https?:/.test(url))
      weights.set(url, { type, bytes: decodedBytes })
  }
  return [...weights].sort(([, a], [, b]) => b.bytes - a.bytes).map(([url, { type }]) => ({ url, type }))
}
