import {
  HtmlRewriter,
  planRewrite,
  registrableDomain,
  type AttributionSources,
  type LocalCopy,
  type ResolvedEffect,
} from '@unvelt/core'
import { assetRegister } from '../connector/inventory.js'
import type { AddOn } from './add-on.js'

/** What the site knows of itself, for telling whose a tag is. `copies`: path of a local copy → add-on. */
export function ownSources(
  addOns: readonly AddOn[],
  ownHosts: string[],
  copies: Record<string, string> = {},
): AttributionSources {
  const { files, folders } = assetRegister(addOns, copies)
  return {
    ownHosts,
    register: files,
    prefixes: [],
    patterns: [],
    inline: addOns.flatMap(({ manifest, inlineIds = [] }) =>
      inlineIds.map((elementId) => ({ elementId, addon: manifest.slug })),
    ),
    outsiders: Object.fromEntries(
      addOns.flatMap(({ manifest, outsideHosts = [] }) =>
        outsideHosts.map((h) => [registrableDomain(h), manifest.slug] as const),
      ),
    ),
    folders,
  }
}

/** Applies the effects that are carried out in the page's HTML. What the site does not run is not in it anyway. */
export function rewritePage(
  html: string,
  effects: readonly ResolvedEffect[],
  sources: AttributionSources,
  address: URL,
  copies: { localCopies?: Record<string, LocalCopy>; madeCopies?: Record<string, LocalCopy> } = {},
): string {
  // What is skipped whole, or switched off as a feature, has not run.
  const inHtml = effects.filter(({ effect, feature }) => !['keep', 'skip', 'set'].includes(effect) && !feature)
  if (inHtml.length === 0) return html
  const { localCopies = {}, madeCopies = {} } = copies
  const origins = Object.fromEntries(
    [...new Set(Object.values(sources.outsiders))].map((addon) => [addon, originsOf(html, addon, sources)] as const),
  )
  const rewriter = new HtmlRewriter(
    planRewrite({ effects, sources, pageUrl: address.href, origins, localCopies, madeCopies }),
  )
  // The rewriter takes bytes as Latin-1.
  const out = rewriter.write(Buffer.from(html, 'utf8').toString('latin1')) + rewriter.end()
  return Buffer.from(out, 'latin1').toString('utf8')
}

/** The origins of an outsider that the page names, for connecting early. */
function originsOf(html: string, addon: string, { outsiders }: AttributionSources): string[] {
  const found = html.match(/https?:\/\/[a-z0-9.-]+(?::\d+)?(?=\/)/gi) ?? []
  return [...new Set(found)].filter((origin) => outsiders[registrableDomain(new URL(origin).host)] === addon)
}
