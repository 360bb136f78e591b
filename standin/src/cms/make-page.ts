import { resolve, type ResolvedEffect, type Rule, type Visit } from '@unvelt/core'
import type { SitePage } from '../content/site-page.js'
import type { AddOn, Tag } from './add-on.js'
import type { Database } from './database.js'
import type { PageContext } from './page-context.js'
import { ownSources, rewritePage } from './rewrite.js'
import { renderPage } from './template.js'
import { Trace } from './trace.js'

export interface MadePage {
  html: string
  trace: Trace
}

/** Makes a page the long way: runs every add-on that the rules let run, then puts their tags in. */
export async function makePage(
  page: SitePage,
  address: URL,
  addOns: readonly AddOn[],
  rules: readonly Rule[],
  visit: Visit,
  database: Database,
): Promise<MadePage> {
  const trace = new Trace()
  const html = await trace.step('cms', async () => {
    const context: PageContext = { page, address, trace, database }
    const effects = resolve(rules, page, visit)
    const running = addOns.filter(
      (addOn) => addOn.active !== false && !isSkipped(addOn, effects) && isNeeded(addOn, addOns, effects),
    )
    for (const addOn of running) await trace.step(addOn.manifest.slug, async () => addOn.beforeContent?.(context))
    const content = await drawBlocks(page.body, running, context)
    const afterContent: string[] = []
    const tags: Tag[] = []
    for (const addOn of running)
      await trace.step(addOn.manifest.slug, async () => {
        afterContent.push((await addOn.afterContent?.(context)) ?? '')
        tags.push(...addOn.tags(context))
      })
    const made = renderPage(page, content, afterContent.join('\n'), tags)
    return rewritePage(made, effects, ownSources(addOns, address.host), address)
  })
  return { html, trace }
}

const about = (addOn: AddOn) => (effect: ResolvedEffect) => effect.addon === addOn.manifest.slug

function isSkipped(addOn: AddOn, effects: ResolvedEffect[]): boolean {
  return (
    addOn.manifest.canSkip && effects.filter(about(addOn)).some((e) => e.effect === 'skip' && !e.file && !e.feature)
  )
}

/** A library runs only as long as something that needs it does. */
function isNeeded(addOn: AddOn, addOns: readonly AddOn[], effects: ResolvedEffect[]): boolean {
  if (!addOn.manifest.library) return true
  return addOns.some(
    (other) =>
      other.active !== false && other.manifest.needs.includes(addOn.manifest.slug) && !isSkipped(other, effects),
  )
}

/** Draws `[[name attribute="value"]]`. A block whose add-on doesn't run stays as it is written, as in real systems. */
async function drawBlocks(body: string, running: AddOn[], context: PageContext): Promise<string> {
  const parts: string[] = []
  let from = 0
  for (const match of body.matchAll(/\[\[([a-z-]+)([^\]]*)\]\]/g)) {
    const [whole, name = '', attributes = ''] = match
    const addOn = running.find((a) => a.blocks && Object.hasOwn(a.blocks, name))
    parts.push(body.slice(from, match.index))
    from = match.index + whole.length
    const values = Object.fromEntries([...attributes.matchAll(/([a-z]+)="([^"]*)"/g)].map((m) => [m[1]!, m[2]!]))
    parts.push(
      addOn ? await context.trace.step(addOn.manifest.slug, () => addOn.blocks![name]!(context, values)) : whole,
    )
  }
  parts.push(body.slice(from))
  return parts.join('')
}
