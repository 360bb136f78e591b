import { bulkScript, bulkStyle } from '../files/bulk-code.js'
import { scriptTag, styleTag, type AddOn, type AddOnFile, type Feature, type Manifest, type Tag } from './add-on.js'
import type { PageContext } from './page-context.js'

/** An add-on of the usual make, in short: what it ships, what it does, and where. */
export interface PluginSpec extends Partial<
  Pick<
    AddOn,
    | 'setUp'
    | 'beforeContent'
    | 'afterContent'
    | 'filter'
    | 'offered'
    | 'blocks'
    | 'featureOfBlock'
    | 'outsideHosts'
    | 'inlineIds'
    | 'tables'
    | 'office'
    | 'slots'
    | 'actions'
    | 'guards'
    | 'onSave'
    | 'tasks'
    | 'releases'
  >
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
  settings?: Manifest['settings']
  works?: Manifest['works']
  insertedBy?: Manifest['insertedBy']
  /** Whether its files come from the delivery host. */
  delivered?: boolean
  /** Code that really runs on every page, with bulk of so many bytes behind it. */
  script?: { code: string; bulk: number; head?: boolean }
  style?: { code: string; bulk: number }
  files?: AddOnFile[]
  /** Tags before those of script and style. */
  earlyTags?(page: PageContext): Tag[]
  /** Tags behind those of script and style. */
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
  const at = (page: PageContext, path: string) => (spec.delivered ? page.delivered(path) : path)
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
      ...(spec.settings && { settings: spec.settings }),
      ...(spec.works && { works: spec.works }),
      ...(spec.insertedBy && { insertedBy: spec.insertedBy }),
    },
    active: spec.active ?? true,
    files: [...own, ...(spec.files ?? [])],
    tags: (page) =>
      on(page)
        ? [
            ...(spec.earlyTags?.(page) ?? []),
            ...(style ? [styleTag(at(page, `${base}/${slug}.css`))] : []),
            ...(script ? [scriptTag(at(page, `${base}/${slug}.js`), script.head ? 'head' : 'body-end')] : []),
            ...(spec.moreTags?.(page) ?? []),
          ]
        : [],
    ...pick(spec),
  }
}

const PASSED_ON = [
  'outsideHosts',
  'inlineIds',
  'tables',
  'setUp',
  'office',
  'beforeContent',
  'afterContent',
  'filter',
  'offered',
  'blocks',
  'featureOfBlock',
  'slots',
  'actions',
  'guards',
  'onSave',
  'tasks',
  'releases',
] as const

const pick = (spec: PluginSpec): Partial<AddOn> =>
  Object.fromEntries(PASSED_ON.flatMap((key) => (spec[key] === undefined ? [] : [[key, spec[key]]])))
