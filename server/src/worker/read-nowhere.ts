import { isUtf8 } from 'node:buffer'
import { Op } from 'sequelize'
import { OnDemandRow, type LookedThrough, type NowhereTaken, type OnDemand } from '../on-demand/on-demand.model.js'
import { cleanStyle, countsOf, goes } from '../nowhere/clean-style.js'
import { scriptsOf, stylesLookedFor, type LookedForStyle } from '../nowhere/looked-for.js'
import { ScriptWords } from '../nowhere/script-words.js'
import { hashOf } from '../made-copy/keep-made-copy.js'
import { PageRow } from '../page/page.model.js'
import { reachOf, type Reach } from '../reach/reach.js'
import { fetchPacked } from '../site-http/fetch-packed.js'
import { siteAddress } from '../site-http/site-address.js'
import { whyUnreachable } from '../site-http/site-fetch.js'
import type { OnDemandTools } from './read-on-demand.js'

/** So many stylesheets are looked through, the heaviest first; and so many scripts and pages for their words. */
const MOST_STYLES = 120
const MOST_SCRIPTS = 300
const MOST_BYTES = 4e6
/** Rules that are kept with a look, of each file and of all; and characters of cleaned files. Of more, only their number is told. */
const MOST_RULES = 2_000
const MOST_RULES_TOGETHER = 30_000
const MOST_CLEANED_TOGETHER = 6_000_000

/**
 * Holds each stylesheet of a sweep against what pages and steps have used of it, and its names against the words of the site's
 * scripts. Whoever goes on after a kill goes on behind the last file that was kept.
 */
export async function readNowhere(
  tools: OnDemandTools,
  { id, siteId, wish, taken }: OnDemand<'nowhere'>,
): Promise<void> {
  const { site, sequelize, keep, turns } = tools
  const reach = reachOf(site)
  const styles = (await stylesLookedFor(sequelize, wish.sweepId)).slice(0, MOST_STYLES)
  const scripts = (await scriptsOf(sequelize, wish.sweepId)).slice(0, MOST_SCRIPTS)
  const told: NowhereTaken = { toLookAt: styles.length, scripts: scripts.length, files: taken.files }
  await keep(told)
  const words = await wordsOf([...scripts, ...(await pagesOf(tools))], tools, reach)
  const own = new Set(site.ownHosts)
  for (const style of styles.slice(taken.files.length)) {
    const looked = await turns.beside(() => lookThrough(style, own.has(new URL(style.url).host), words, reach))
    told.files.push(withinRoom(looked, told.files))
    await keep(told)
  }
  await OnDemandRow.destroy({ where: { siteId, kind: 'nowhere', state: 'done', id: { [Op.lt]: id } } })
}

/** What a site sends has no bounds, and what is kept of it must have. */
function withinRoom(file: LookedThrough, others: readonly LookedThrough[]): LookedThrough {
  const rules = others.reduce((sum, other) => sum + other.rules.length, 0)
  const cleaned = others.reduce((sum, other) => sum + (other.cleaned?.length ?? 0), 0)
  return {
    ...file,
    rules: file.rules.slice(0, Math.max(0, Math.min(MOST_RULES, MOST_RULES_TOGETHER - rules))),
    cleaned: file.cleaned !== null && cleaned + file.cleaned.length <= MOST_CLEANED_TOGETHER ? file.cleaned : null,
  }
}

/** A page of each kind: scripts are written into pages, too. */
async function pagesOf({ site }: OnDemandTools): Promise<string[]> {
  const pages = await PageRow.findAll({ where: { siteId: site.id, gone: false, signedIn: false }, order: ['position'] })
  const first = new Map(pages.reverse().map((page) => [page.kind, page]))
  return [...first.values()].map(({ path }) => siteAddress(site.address, path).href)
}

/** What can't be had says nothing, and what is only in it may be taken for unused; so does the note beside the figures. */
async function wordsOf(urls: readonly string[], { turns }: OnDemandTools, reach: Reach): Promise<ScriptWords> {
  const words = new ScriptWords()
  for (const url of urls) {
    const answer = await turns.beside(() => fetchPacked(new URL(url), reach, MOST_BYTES).catch(() => null))
    if (!answer || answer.status !== 200) continue
    const text = answer.plain.toString('utf8')
    if (/html/.test(answer.contentType))
      for (const [, code] of text.matchAll(/<script\b[^>]*>([^]*?)<\/script/gi)) words.take(code!)
    else words.take(text)
  }
  return words
}

async function lookThrough(
  { url, payer, bytes, pageIds, unknown, sweeps, used }: LookedForStyle,
  isOwn: boolean,
  words: ScriptWords,
  reach: Reach,
): Promise<LookedThrough> {
  const told = { url, payer, isOwn, plain: bytes, pageIds, sweeps }
  const not = (why: string): LookedThrough => ({
    ...told,
    ...{ wire: 0, counts: [], rules: [], cleaned: null, cleanedWire: null, why },
  })
  // Where nobody knows what a page uses of it, nothing of it is known to be used nowhere.
  if (unknown > 0) return not(`What ${unknown} of ${pageIds.length} pages use of it is not known.`)
  try {
    const answer = await fetchPacked(new URL(url), reach, MOST_BYTES)
    if (answer.status !== 200) return not(`It answered ${answer.status} when it was asked for by itself.`)
    if (answer.plain.length !== bytes) return not('It has changed since the sweep. Sweep once more, and look again.')
    const found = await cleanStyle(answer, used, words)
    if (!found) return not('Its code is not understood, or it takes too long.')
    const { rules, cleaned, wire, cleanedWire } = found
    const isLess = rules.some(goes)
    return {
      ...told,
      wire,
      counts: countsOf(rules),
      rules: rules.map(({ what, name, line, bytes, because }) => ({ what, name, line, bytes, because })),
      cleaned: isOwn && isLess ? cleaned : null,
      cleanedWire,
      // What is not UTF-8 was not read as its author meant it.
      from: isOwn && isLess && isUtf8(answer.plain) ? hashOf(answer.plain) : null,
      why: null,
    }
  } catch (error) {
    const { message } = error as Error
    return not(/^It is /.test(message) ? message : whyUnreachable(error, new URL(url).host))
  }
}
