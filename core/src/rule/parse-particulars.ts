import type { RuleProblem } from './parse.js'
import { HOLD_UNTIL, ORDERS, type HoldUntil, type Order } from './rule.js'

const LONGEST_TEXT = 2_000
const LONGEST_WORDS = 200
const LONGEST_NAME = 100
const MOST_DAYS = 365
const MOST_FONTS = 20
const MOST_LOCAL = 8
const MOST_HOSTS = 10
/** Percentages that a browser takes and that a fallback can sensibly need (CSS Fonts 5, sections 2 and 3). */
const LEAST_SIZE = 30
const MOST_PERCENT = 300

type Fields = Record<string, unknown>

/** What a rule says beside its effect, each checked, and each with that effect alone. */
export function checkParticulars(rule: Fields, at: string, problems: RuleProblem[]): void {
  const { effect, until, order } = rule
  if (until !== undefined && (effect !== 'hold' || !HOLD_UNTIL.includes(until as HoldUntil)))
    problems.push({ at: `${at}/until`, expected: `one of ${HOLD_UNTIL.join(', ')}, and only with the effect hold` })
  if (order !== undefined && (effect !== 'order' || !ORDERS.includes(order as Order)))
    problems.push({ at: `${at}/order`, expected: `one of ${ORDERS.join(', ')}, and only with the effect order` })
  if (rule.ask !== undefined) checkAskPlace(rule, `${at}/ask`, problems)
  if (rule.copy !== undefined) checkCopy(rule, `${at}/copy`, problems)
  if (rule.fonts !== undefined) checkFonts(rule, `${at}/fonts`, problems)
  if (rule.hosts !== undefined) checkHosts(rule, `${at}/hosts`, problems)
  if (rule.ahead !== undefined && (effect !== 'hint' || rule.file === undefined || rule.ahead !== true))
    problems.push({ at: `${at}/ahead`, expected: 'true, and only with the effect hint of one file' })
}

/** What stands in the place of something that is held until asked for. */
function checkAskPlace({ effect, until, ask }: Fields, at: string, problems: RuleProblem[]): void {
  if (effect !== 'hold' || until !== 'asked') problems.push({ at, expected: 'nothing, but with hold until asked' })
  if (!isRecord(ask)) return void problems.push({ at, expected: 'an object with words or a picture' })
  onlyKnown(ask, ['words', 'picture'], at, problems)
  const { words, picture } = ask
  if (words !== undefined && !isText(words, LONGEST_WORDS))
    problems.push({ at: `${at}/words`, expected: `a text of 1 to ${LONGEST_WORDS} characters` })
  if (picture !== undefined && !isPictureAddress(picture))
    problems.push({ at: `${at}/picture`, expected: 'a path that begins with /, or an http or https address' })
  if (words === undefined && picture === undefined) problems.push({ at, expected: 'words or a picture' })
}

/** How a copy is kept. */
function checkCopy({ effect, copy, file }: Fields, at: string, problems: RuleProblem[]): void {
  if (effect !== 'local') problems.push({ at, expected: 'nothing, but with the effect local' })
  if (!isRecord(copy)) return void problems.push({ at, expected: 'an object with refreshDays or licence' })
  if (copy.content !== undefined || copy.from !== undefined) return checkMadeCopy(copy, file, at, problems)
  onlyKnown(copy, ['refreshDays', 'licence'], at, problems)
  const { refreshDays: days, licence } = copy
  if (days !== undefined && !(Number.isInteger(days) && (days as number) >= 1 && (days as number) <= MOST_DAYS))
    problems.push({ at: `${at}/refreshDays`, expected: `a whole number from 1 to ${MOST_DAYS}` })
  if (licence !== undefined && !isText(licence, LONGEST_WORDS))
    problems.push({ at: `${at}/licence`, expected: `a text of 1 to ${LONGEST_WORDS} characters` })
  if (days === undefined && licence === undefined) problems.push({ at, expected: 'refreshDays or licence' })
}

/** A copy that was made from a file: which one, and of what. It is never fetched, and it is the site's own. */
function checkMadeCopy(copy: Fields, file: unknown, at: string, problems: RuleProblem[]): void {
  if (file === undefined) problems.push({ at, expected: 'a rule on one file, where a copy was made of it' })
  onlyKnown(copy, ['content', 'from'], at, problems)
  for (const name of ['content', 'from'])
    if (!isHash(copy[name])) problems.push({ at: `${at}/${name}`, expected: 'a hash, sha384-… in Base64' })
}

/** Which fonts of the system stand in for those that are left out, and how they are fitted. */
function checkFonts({ effect, fonts }: Fields, at: string, problems: RuleProblem[]): void {
  if (effect !== 'system-font') problems.push({ at, expected: 'nothing, but with the effect system-font' })
  if (!Array.isArray(fonts) || fonts.length === 0 || fonts.length > MOST_FONTS)
    return void problems.push({ at, expected: `a list of 1 to ${MOST_FONTS} fonts` })
  fonts.forEach((font: unknown, n) => {
    const here = `${at}/${n}`
    if (!isRecord(font)) return void problems.push({ at: here, expected: 'an object with family and local' })
    onlyKnown(font, ['family', 'weight', 'style', 'local', 'size', 'ascent', 'descent', 'lineGap'], here, problems)
    if (!isFamily(font.family)) problems.push({ at: `${here}/family`, expected: 'the name of a family' })
    if (
      font.weight !== undefined &&
      !(typeof font.weight === 'string' && /^[1-9]\d{0,3}( [1-9]\d{0,3})?$/.test(font.weight))
    )
      problems.push({ at: `${here}/weight`, expected: 'a weight such as 400, or a span of two' })
    if (font.style !== undefined && font.style !== 'normal' && font.style !== 'italic')
      problems.push({ at: `${here}/style`, expected: 'normal or italic' })
    const { local } = font
    if (!Array.isArray(local) || local.length === 0 || local.length > MOST_LOCAL || !local.every(isFamily))
      problems.push({ at: `${here}/local`, expected: `a list of 1 to ${MOST_LOCAL} names of fonts` })
    for (const [name, least] of [
      ['size', LEAST_SIZE],
      ['ascent', 0],
      ['descent', 0],
      ['lineGap', 0],
    ] as const)
      // prettier-ignore
      if (!isBetween(font[name], least, MOST_PERCENT))
        problems.push({ at: `${here}/${name}`, expected: `a percentage from ${least} to ${MOST_PERCENT}` })
  })
}

/** To which hosts is connected early. */
function checkHosts({ effect, hosts }: Fields, at: string, problems: RuleProblem[]): void {
  if (effect !== 'hint') problems.push({ at, expected: 'nothing, but with the effect hint' })
  if (!Array.isArray(hosts) || hosts.length === 0 || hosts.length > MOST_HOSTS)
    return void problems.push({ at, expected: `a list of 1 to ${MOST_HOSTS} hosts` })
  hosts.forEach((host: unknown, n) => {
    const here = `${at}/${n}`
    if (!isRecord(host)) return void problems.push({ at: here, expected: 'an object with origin' })
    onlyKnown(host, ['origin', 'cors', 'nameOnly'], here, problems)
    if (!isOrigin(host.origin))
      problems.push({ at: `${here}/origin`, expected: 'an origin such as https://host.example' })
    for (const name of ['cors', 'nameOnly'])
      if (host[name] !== undefined && typeof host[name] !== 'boolean')
        problems.push({ at: `${here}/${name}`, expected: 'true or false' })
  })
}

/** Whether a picture can be had there by a page of the site. */
export const isPictureAddress = (value: unknown): value is string =>
  typeof value === 'string' &&
  value.length <= LONGEST_TEXT &&
  (/^\/(?![/\\])/.test(value) || (/^https?:\/\//i.test(value) && URL.canParse(value)))

/** Whether it is the origin of an http or https address, and nothing more. */
export const isOrigin = (value: unknown): value is string =>
  typeof value === 'string' && /^https?:\/\//.test(value) && URL.canParse(value) && new URL(value).origin === value

const isHash = (value: unknown) => typeof value === 'string' && /^sha384-[A-Za-z0-9+/]{64}$/.test(value)
const isText = (value: unknown, longest: number): value is string =>
  typeof value === 'string' && /\S/.test(value) && value.length <= longest
/** Names go into a style in the page, where these characters would end more than the name. */
const isFamily = (value: unknown): value is string => isText(value, LONGEST_NAME) && !/["\\<>{};\p{Cc}]/u.test(value)
const isBetween = (value: unknown, least: number, most: number) =>
  typeof value === 'number' && value >= least && value <= most

/** What is misspelt says something else than was meant, so it is refused and not passed over. */
export function onlyKnown(value: object, keys: readonly string[], at: string, problems: RuleProblem[]): void {
  for (const [key, said] of Object.entries(value))
    if (!keys.includes(key) && said !== undefined)
      problems.push({
        at: `${at}/${key.replace(/~/g, '~0').replace(/\//g, '~1')}`,
        expected: `nothing of that name, but ${keys.join(', ')}`,
      })
}

export const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value)
