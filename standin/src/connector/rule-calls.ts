import { CONTENT, parseRuleFile, RULES_FORMAT, type Effect, type Rule, type RuleProblem } from '@unvelt/core'
import type { AddOn } from '../cms/add-on.js'
import type { Fernhollow } from '../cms/fernhollow.js'
import { outsideAddresses } from '../cms/local-copies.js'
import { Refusal } from '../cms/refusal.js'
import { StaleVersionError, type RuleStore } from '../cms/rule-store.js'
import type { OnTrial } from '../cms/shelf.js'
import { recordOf, type Calls } from './call.js'

/** What this site can do to an add-on by itself. */
export const SITE_EFFECTS: Effect[] = [
  'skip',
  'leave-out',
  'hold',
  'order',
  'local',
  'system-font',
  'hint',
  'set',
  'keep',
]
/** What a feature's rule can say: its switch is off here, or it stays. */
const FEATURE_EFFECTS: Effect[] = ['skip', 'leave-out', 'keep']

/** Rules in and out. */
export const ruleCalls = (site: Fernhollow, rules: RuleStore): Calls => ({
  'GET /rules': () => {
    const { version, rules: live } = rules.live
    return { json: { format: RULES_FORMAT, rules: live }, headers: { etag: `"${version}"` } }
  },
  'POST /drafts': async ({ body, address }) => {
    const { addOns = {}, ...file } = recordOf(body)
    const onTrial = triedAddOns(site, addOns)
    const wanted = obeyable(site, file, site.shelf.withOnTrial(onTrial))
    await copyWhatIsLocal(site, wanted, address, false)
    const { id, until } = site.drafts.keep(wanted, onTrial)
    return { status: 201, json: { id, until: until.toISOString() } }
  },
  'POST /drafts/remove': ({ body }) => {
    const { id } = recordOf(body)
    if (typeof id !== 'string' || !site.drafts.remove(id)) throw new Refusal(404, 'There are no such drafts.')
    return { json: { removed: id } }
  },
  'PUT /rules': async ({ headers, body, address }) => {
    const [, expected] = /^"(\d{1,9})"$/.exec(String(headers['if-match'] ?? '')) ?? []
    if (expected === undefined) throw new Refusal(428, 'If-Match must name the version that is replaced.')
    const wanted = obeyable(site, body)
    if (Number(expected) !== rules.live.version) throw stale(rules.live.version)
    await copyWhatIsLocal(site, wanted, address, true)
    try {
      const version = await rules.put(wanted, Number(expected))
      return { json: { version }, headers: { etag: `"${version}"` } }
    } catch (error) {
      if (!(error instanceof StaleVersionError)) throw error
      throw stale(error.current)
    }
  },
})

/** The rules of a rule file, if this site can obey them all. */
function obeyable(site: Fernhollow, body: unknown, addOns = site.installed.addOns): Rule[] {
  const parsed = parseRuleFile(body)
  if ('problems' in parsed)
    throw new Refusal(422, 'The rules are malformed; nothing was changed.', { problems: parsed.problems })
  const problems = parsed.file.rules.flatMap((rule, index) => [
    ...problemsOf(rule, `/rules/${index}`, addOns),
    ...copyProblems(site, rule, `/rules/${index}`),
  ])
  if (problems.length > 0) throw new Refusal(422, 'This site can’t obey the rules; nothing was changed.', { problems })
  return parsed.file.rules
}

/** A copy that was made must have been given before. */
const copyProblems = (site: Fernhollow, { copy }: Rule, at: string): RuleProblem[] =>
  copy?.content === undefined || site.made.has(copy.content)
    ? []
    : [{ at: `${at}/copy/content`, expected: 'a copy that this site was given' }]

/** Add-ons that are to be tried with the drafts: slug → version, or null for as if it was not there. */
function triedAddOns(site: Fernhollow, given: unknown): OnTrial {
  const wanted = recordOf(given)
  const odd = Object.entries(wanted).filter(([, version]) => version !== null && typeof version !== 'string')
  const problems =
    odd.length > 0
      ? odd.map(([slug]) => ({ at: `/addOns/${slug}`, expected: 'a version, or null' }))
      : site.shelf.problemsOf(wanted as OnTrial)
  if (problems.length > 0) throw new Refusal(422, 'This site has no such add-ons to try.', { problems })
  return wanted as OnTrial
}

const stale = (version: number) =>
  new Refusal(412, 'The rules have changed meanwhile; nothing was changed.', { version })

/** A picture or frame of a page's own, which waits until it is near, or is asked for first. */
const isOfContent = ({ addon, file, effect, until }: Rule) =>
  addon === CONTENT && file !== undefined && ((effect === 'hold' && until === 'seen') || effect === 'hint')

function problemsOf(rule: Rule, at: string, addOns: readonly AddOn[]): RuleProblem[] {
  if (isOfContent(rule)) return []
  const addOn = addOns.find((a) => a.manifest.slug === rule.addon)
  if (!addOn) return [{ at: `${at}/addon`, expected: 'an add-on of this site' }]
  if (!SITE_EFFECTS.includes(rule.effect))
    return [{ at: `${at}/effect`, expected: `one of ${SITE_EFFECTS.join(', ')}` }]
  if (rule.feature !== undefined) {
    if (!addOn.manifest.features.some((f) => f.slug === rule.feature))
      return [{ at: `${at}/feature`, expected: `a feature of ${rule.addon}` }]
    if (!FEATURE_EFFECTS.includes(rule.effect))
      return [{ at: `${at}/effect`, expected: `for a feature one of ${FEATURE_EFFECTS.join(', ')}` }]
  }
  if (rule.setting !== undefined) {
    const setting = addOn.manifest.settings?.find((s) => s.slug === rule.setting)
    if (!setting || !setting.perPage)
      return [{ at: `${at}/setting`, expected: `a setting of ${rule.addon} that can differ between pages` }]
    if (rule.effect === 'set' && (rule.value! < setting.least || rule.value! > setting.most))
      return [{ at: `${at}/value`, expected: `a whole number from ${setting.least} to ${setting.most}` }]
  }
  if (rule.effect === 'skip' && rule.file !== undefined)
    return [{ at: `${at}/effect`, expected: 'leave-out, since a single file can’t be left unrun' }]
  if (rule.effect === 'skip' && rule.feature === undefined && !addOn.manifest.canSkip)
    return [{ at: `${at}/effect`, expected: `another effect, since ${rule.addon} always runs` }]
  return []
}

/** Fetches outside files for `local`, from the tags that the add-on puts into a page of the rule's own. */
async function copyWhatIsLocal(site: Fernhollow, rules: Rule[], address: URL, areLive: boolean): Promise<void> {
  const fetched = rules.filter(({ copy }) => copy?.content === undefined)
  if (!fetched.some((rule) => rule.effect === 'local' && !rule.file))
    return site.copies.fetchFor(fetched, () => [], areLive)
  const page = site.book.find('/')!
  const html = await site.plainHtml(page, new URL('/', address), [])
  const addressesOf = (slug: string) => {
    const found = outsideAddresses(site.installed.get(slug), html, (url) => url.host !== address.host)
    if (found.length === 0) throw new Refusal(422, `${slug} loads nothing from outside that could be copied.`)
    return found
  }
  await site.copies.fetchFor(fetched, addressesOf, areLive)
}
