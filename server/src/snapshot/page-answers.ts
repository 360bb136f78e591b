import { promisify } from 'node:util'
import { gunzip, gzip } from 'node:zlib'
import { answerDifference, steadyAnswer, type SteadyAnswer } from '@unvelt/core'
import { PageRow } from '../page/page.model.js'
import { reachOf } from '../reach/reach.js'
import { MEASURING_HEADER, measuringHeader } from '../site-http/measuring-header.js'
import { boundedText, siteFetch } from '../site-http/site-fetch.js'
import type { SiteRow } from '../site/site.model.js'
import { PageAnswerRow } from './page-answer.model.js'

/** So many pages are asked at most; those that used what goes come first. */
const MOST_PAGES = 5
const MOST_BYTES = 5e6
const MOST_TOLD = 3
/** A site that hangs holds nobody up for long: its pages are only witnesses. */
const LONGEST_ANSWER_MS = 20_000
const LONGEST_TOLD = 60

const squeeze = promisify(gzip)
const unsqueeze = promisify(gunzip)

/** Keeps how pages answer now, for whoever puts the snapshot back. Pages that give no steady answer are left out. */
export async function keepAnswers(
  site: SiteRow,
  key: string,
  { snapshotId, first }: { snapshotId: number; first: readonly number[] },
): Promise<void> {
  for (const page of await pagesOf(site.id, first)) {
    const answer = await steadyAnswerOf(site, key, page)
    if (!answer) continue
    const parts = await squeeze(JSON.stringify(answer))
    await PageAnswerRow.upsert({ siteId: site.id, snapshotId, pageId: page.id, parts })
  }
}

/** Holds how pages answer now against how they did then, in a sentence; empty where nobody asked them then. */
export async function answersAgain(site: SiteRow, key: string, snapshotId: number): Promise<string> {
  const kept = await PageAnswerRow.findAll({ where: { siteId: site.id, snapshotId } })
  const pages = await PageRow.findAll({ where: { id: kept.map(({ pageId }) => pageId) }, order: ['position'] })
  if (pages.length === 0) return ''
  const differing: string[] = []
  let silent = 0
  for (const page of pages) {
    const { parts } = kept.find(({ pageId }) => pageId === page.id)!
    const was = JSON.parse((await unsqueeze(parts)).toString()) as SteadyAnswer
    const is = await steadyAnswerOf(site, key, page)
    const found = is && answerDifference(was, is)
    if (!is) silent += 1
    else if (found) differing.push(`${page.path} (first “${cut(found.was)}”, now “${cut(found.is)}”)`)
  }
  const same = pages.length - differing.length - silent
  return [
    ` ${same} of ${pages.length === 1 ? '1 page' : `${pages.length} pages`} byte for byte as when it was made, but for what differs each time.`,
    differing.length > 0 &&
      ` Different: ${differing.slice(0, MOST_TOLD).join(', ')}${more(differing.length - MOST_TOLD)}.`,
    silent > 0 && ` ${silent} gave no answer that could be held against it.`,
  ]
    .filter(Boolean)
    .join('')
}

const more = (n: number): string => (n > 0 ? ` and ${n} more` : '')

/** What a site sends is cut and told on one line. */
const cut = (part: string): string => {
  const line = part.replace(/\s+/g, ' ').trim()
  return line.length > LONGEST_TOLD ? `${line.slice(0, LONGEST_TOLD)}…` : line
}

async function pagesOf(siteId: number, first: readonly number[]): Promise<PageRow[]> {
  const pages = await PageRow.findAll({ where: { siteId, gone: false, signedIn: false }, order: ['position'] })
  const rank = ({ id }: PageRow) => (first.includes(id) ? 0 : 1)
  return pages.sort((a, b) => rank(a) - rank(b)).slice(0, MOST_PAGES)
}

/** Under no rules and made afresh, as nobody but a measuring request sees it: rules come and go in between. */
async function steadyAnswerOf(site: SiteRow, key: string, page: PageRow): Promise<SteadyAnswer | null> {
  const url = new URL(page.path, site.address)
  const rules = site.connector?.measuring?.olderRules ? 0 : 'live'
  const ask = async () => {
    const header = measuringHeader(url, key, { rules, cache: 'bypass' }, Date.now() / 1000)
    const response = await siteFetch(url, {
      reach: reachOf(site),
      signal: AbortSignal.timeout(LONGEST_ANSWER_MS),
      headers: { accept: 'text/html,*/*;q=0.8', [MEASURING_HEADER]: header },
    })
    const html = await boundedText(response, MOST_BYTES)
    if (response.status !== 200) throw new Error(`Status ${response.status}`)
    return html
  }
  try {
    return steadyAnswer(await ask(), await ask())
  } catch {
    // Neither a snapshot nor putting it back fails for want of it.
    return null
  }
}
