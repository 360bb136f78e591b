import type { AttributionSources } from '../attribution/sources.js'
import type { ResolvedEffect } from '../rule/resolve.js'
import { HtmlRewriter } from './html-rewriter.js'
import { planRewrite, type TagAction } from './rewrite-plan.js'
import { GOES } from './stop-list.js'

/** A page as a visitor got it. */
export interface PageAsItCame {
  /** The document, a character for each byte (Latin-1), as the rewriter takes it. */
  html: string
  /** Its address in the end. */
  url: string
  /** Addresses of all that was asked for beside it. */
  asked: readonly string[]
}

/** What of an effect is not carried out on a page. */
export interface LeftToDo {
  /** Addresses in tags that the effect would have changed, or hosts that no tag connects to early; inline code as an empty text. */
  inPage: string[]
  /** Addresses that were asked for all the same. */
  arrived: string[]
}

/** More are not listed. */
const MOST_LISTED = 20

/**
 * What is left to do of an effect on a page that somebody else was to carry it out on, by whatever means: a gate of one's own, the
 * template, a setting. It is carried out where carrying it out once more would change no tag, and nothing arrives that is to go.
 *
 * @param all Every effect on the page for that visit: what narrower ones say of parts of the same add-on holds for those.
 * @returns Null where it can't be told from outside: a setting, or hosts that nobody named.
 */
export function leftToDo(
  effect: ResolvedEffect,
  all: readonly ResolvedEffect[],
  page: PageAsItCame,
  sources: AttributionSources,
): LeftToDo | null {
  if (effect.effect === 'set' || effect.effect === 'keep') return null
  if (effect.effect === 'hint') return effect.hosts?.length ? notAnnounced(effect.hosts, page, sources) : null
  // Served by the own host, it does not come from outside.
  const meant: ResolvedEffect = effect.effect === 'local' ? { ...effect, effect: 'leave-out' } : effect
  const others = all
    .filter((one) => one !== effect && one.addon === effect.addon)
    .map((one): ResolvedEffect => ({ ...one, effect: 'keep' }))
  const plan = planRewrite({ effects: [meant, ...others], sources, pageUrl: page.url })
  const touched = new Set<string>()
  const noting =
    (of: (address: string, base?: string) => TagAction | null) =>
    (address: string, base?: string): TagAction | null => {
      const action = of(address, base)
      if (action) touched.add(resolved(address, base ?? page.url))
      return action
    }
  const rewriter = new HtmlRewriter({
    ...plan,
    first: '',
    forFile: noting(plan.forFile),
    forHint: noting(plan.forHint),
    forInline(id, code) {
      const action = plan.forInline(id, code)
      if (action) touched.add('')
      return action
    },
  })
  const out = rewriter.write(page.html) + rewriter.end()
  const goes = GOES.has(meant.effect)
  return {
    inPage: sameBut(out, page.html) ? [] : [...touched].slice(0, MOST_LISTED),
    arrived: goes
      ? [...new Set(page.asked.filter((address) => plan.forFile(address)?.do === 'drop'))].slice(0, MOST_LISTED)
      : [],
  }
}

export const isCarriedOut = ({ inPage, arrived }: LeftToDo): boolean => inPage.length === 0 && arrived.length === 0

/** Origins that no tag of the page connects to early. */
function notAnnounced(
  hosts: NonNullable<ResolvedEffect['hosts']>,
  { html, url }: PageAsItCame,
  sources: AttributionSources,
): LeftToDo {
  const announced = new Set<string>()
  const nothing = planRewrite({ effects: [], sources, pageUrl: url })
  const rewriter = new HtmlRewriter({
    ...nothing,
    idle: false,
    forHint(address, base) {
      const at = resolved(address, base ?? url)
      if (URL.canParse(at)) announced.add(new URL(at).origin)
      return null
    },
  })
  rewriter.write(html)
  rewriter.end()
  return { inPage: hosts.map(({ origin }) => origin).filter((origin) => !announced.has(origin)), arrived: [] }
}

const resolved = (address: string, base: string): string =>
  URL.canParse(address, base) ? new URL(address, base).href : address

/** What is moved to where it stands already may leave another space behind. */
const sameBut = (a: string, b: string): boolean => a === b || squeezed(a) === squeezed(b)
const squeezed = (text: string): string => text.replace(/\s+/g, '')
