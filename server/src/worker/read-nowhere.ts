import { Op } from 'sequelize'
import { OnDemandRow, type LookedThrough, type NowhereTaken, type OnDemand } from '../on-demand/on-demand.model.js'
import { lookThrough, type ToLookThrough } from '../nowhere/look-through.js'
import { filesLookedFor, scriptsOf } from '../nowhere/looked-for.js'
import { ScriptWords } from '../nowhere/script-words.js'
import { PageRow } from '../page/page.model.js'
import { reachOf, type Reach } from '../reach/reach.js'
import { fetchPacked, type PackedAnswer } from '../site-http/fetch-packed.js'
import { siteAddress } from '../site-http/site-address.js'
import type { OnDemandTools } from './read-on-demand.js'

/** So many stylesheets, and so many scripts, are looked through, the heaviest first; and so many scripts for their words. */
const MOST_OF_A_TYPE = 120
const MOST_SCRIPTS = 300
const MOST_BYTES = 4e6
/** Scripts that were fetched for their words are kept for a look at their functions, up to so many bytes together. */
const MOST_HELD = 60e6
/** Rules that are kept with a look, of each file and of all; and characters of cleaned files. Of more, only their number is told. */
const MOST_RULES = 2_000
const MOST_RULES_TOGETHER = 30_000
const MOST_CLEANED_TOGETHER = 6_000_000

/**
 * Holds each stylesheet and each script of a sweep against what pages and steps have used of it, and its names against the
 * words of the site's scripts. Whoever goes on after a kill goes on behind the last file that was kept.
 */
export async function readNowhere(
  tools: OnDemandTools,
  { id, siteId, wish, taken }: OnDemand<'nowhere'>,
): Promise<void> {
  const { site, sequelize, keep, turns } = tools
  const own = new Set(site.ownHosts)
  const ofType = async (type: 'style' | 'script'): Promise<ToLookThrough[]> => {
    const files = await filesLookedFor(sequelize, wish.sweepId, type)
    return files.slice(0, MOST_OF_A_TYPE).map((file) => ({ ...file, type, isOwn: own.has(new URL(file.url).host) }))
  }
  const files = [...(await ofType('style')), ...(await ofType('script'))]
  const scripts = (await scriptsOf(sequelize, wish.sweepId)).slice(0, MOST_SCRIPTS)
  const told: NowhereTaken = { toLookAt: files.length, scripts: scripts.length, files: taken.files }
  await keep(told)
  const fetchFile = fetcher(reachOf(site))
  const words = await wordsOf([...scripts, ...(await pagesOf(tools))], (url) => turns.beside(() => fetchFile(url)))
  for (const file of files.slice(taken.files.length)) {
    told.files.push(withinRoom(await turns.beside(() => lookThrough(file, words, fetchFile)), told.files))
    await keep(told)
  }
  await OnDemandRow.destroy({ where: { siteId, kind: 'nowhere', state: 'done', id: { [Op.lt]: id } } })
}

/** Asks for no file twice as long as there is room for it. */
function fetcher(reach: Reach): (url: string) => Promise<PackedAnswer> {
  const held = new Map<string, PackedAnswer>()
  let room = MOST_HELD
  return async (url) => {
    const known = held.get(url)
    if (known) return known
    const answer = await fetchPacked(new URL(url), reach, MOST_BYTES)
    const size = answer.plain.length + answer.wire.length
    if (size <= room) {
      room -= size
      held.set(url, answer)
    }
    return answer
  }
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
async function wordsOf(
  urls: readonly string[],
  fetchFile: (url: string) => Promise<PackedAnswer>,
): Promise<ScriptWords> {
  const words = new ScriptWords()
  for (const url of urls) {
    const answer = await fetchFile(url).catch(() => null)
    if (!answer || answer.status !== 200) continue
    const text = answer.plain.toString('utf8')
    if (/html/.test(answer.contentType)) for (const code of codeInPage(text)) words.take(code, url)
    else words.take(text, url)
  }
  return words
}

/** What scripts and attributes of events say in a page. */
const codeInPage = (html: string): string[] => [
  ...[...html.matchAll(/<script\b[^>]*>([^]*?)<\/script/gi)].map(([, code]) => code!),
  ...[...html.matchAll(/\son[a-z]+\s*=\s*(?:"([^"]*)"|'([^']*)')/gi)].map(([, a, b]) => a ?? b!),
]
