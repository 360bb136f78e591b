import { bulkScript, bulkStyle } from '../files/bulk-code.js'
import { scriptTag, styleTag, type AddOn, type AddOnFile, type Feature, type Manifest, type Tag } from './add-on.js'
import type { PageContext } from './page-context.js'

/** An add-on of the usual make, in short: what it ships, what it does, and where. */
export interface PluginSpec extends Partial<
  Pick<AddOn, 'setUp' | 'beforeContent' | 'afterContent' | 'blocks' | 'outsideHosts' | 'inlineIds'>
> {
  slug: string
  name: string
  version: string
  author: string
  summary: string
  kind?: Manifest['kind']
  needs?: string[]
  library?: boolean
  features?: Feature[]
  /** Code that really runs on every page, with bulk of so many bytes behind it. */
  script?: { code: string; bulk: number; head?: boolean }
  style?: { code: string; bulk: number }
  files?: AddOnFile[]
  /** Tags beside those of script and style. */
  moreTags?(page: PageContext): Tag[]
  /** Where it puts its tags; everywhere in public, unless it says otherwise. */
  on?(page: PageContext): boolean
  active?: boolean
}

/** Builds the add-on: its files below a folder of its own, and its tags on every page it is on. */
export function plugin(spec: PluginSpec): AddOn {
  const { slug, name, version, author, summary, kind = 'plugin', needs = [], features = [], script, style } = spec
  const base = `/add-ons/${slug}`
  const own: AddOnFile[] = []
  if (script)
    own.push({
      path: `${base}/${slug}.js`,
      type: 'script',
      body: Buffer.from(`${script.code}\n${bulkScript(slug, script.bulk)}`),
    })
  if (style)
    own.push({
      path: `${base}/${slug}.css`,
      type: 'style',
      body: Buffer.from(`${style.code}\n${bulkStyle(slug, style.bulk)}`),
    })
  const on = spec.on ?? (({ page }: PageContext) => page.area === 'public')
  return {
    manifest: {
      slug,
      kind,
      name,
      version,
      author,
      summary,
      features,
      needs,
      canSkip: true,
      ...(spec.library && { library: true }),
    },
    active: spec.active ?? true,
    files: [...own, ...(spec.files ?? [])],
    tags: (page) =>
      on(page)
        ? [
            ...(style ? [styleTag(`${base}/${slug}.css`)] : []),
            ...(script ? [scriptTag(`${base}/${slug}.js`, script.head ? 'head' : 'body-end')] : []),
            ...(spec.moreTags?.(page) ?? []),
          ]
        : [],
    ...(spec.outsideHosts && { outsideHosts: spec.outsideHosts }),
    ...(spec.inlineIds && { inlineIds: spec.inlineIds }),
    ...(spec.setUp && { setUp: spec.setUp }),
    ...(spec.beforeContent && { beforeContent: spec.beforeContent }),
    ...(spec.afterContent && { afterContent: spec.afterContent }),
    ...(spec.blocks && { blocks: spec.blocks }),
  }
}
