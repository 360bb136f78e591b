import { resolve, type LocalCopy, type ResolvedEffect, type Rule, type Visit } from '@unvelt/core'
import type { SitePage } from '../content/site-page.js'
import type { AddOn, Slot, Tag } from './add-on.js'
import type { Database } from './database.js'
import type { PageContext } from './page-context.js'
import type { Person } from './people.js'
import { ownSources, rewritePage } from './rewrite.js'
import { renderPage } from './template.js'
import { Trace, type Spans } from './trace.js'

export interface MadePage {
  html: string
  trace: Trace
}

/** Everything a page is made from. */
export interface PageOrder {
  page: SitePage
  address: URL
  addOns: readonly AddOn[]
  pages: SitePage[]
  rules: readonly Rule[]
  visit: Visit
  person: Person | null
  basket: string
  database: Database
  ownHosts: string[]
  deliveryOrigin: string
  /** Outside address → its copy on the own host. */
  localCopies: Record<string, LocalCopy>
  /** By the hash of its content, the copies that stand in for files as they are now. */
  madeCopies: Record<string, LocalCopy>
  /** Path of a copy → whose it is. */
  copiesOf: Record<string, string>
  /** Whether what each add-on prints is marked, for who counts it. */
  marks: boolean
  /** Puts the files of many add-ons into one, where that is switched on. */
  glue(html: string): string
  spans?: Spans | null
}

/** Makes a page the long way: runs every add-on that the rules let run, then puts their tags in. */
export async function makePage(order: PageOrder): Promise<MadePage> {
  const trace = new Trace(order.spans ?? null)
  const html = await trace.step('cms', () => new PageMaker(order, trace).make())
  return { html, trace }
}

class PageMaker {
  private readonly effects: ResolvedEffect[]
  private readonly running: AddOn[]

  constructor(
    private readonly order: PageOrder,
    private readonly trace: Trace,
  ) {
    const { page, rules, visit, addOns } = order
    this.effects = resolve(rules, page, visit)
    this.running = addOns.filter(
      (addOn) =>
        addOn.active !== false &&
        (page.area === 'public' || addOn.office?.(this.contextOf(addOn))) &&
        !isSkipped(addOn, this.effects) &&
        isNeeded(addOn, addOns, this.effects),
    )
  }

  async make(): Promise<string> {
    const { order } = this
    await this.each('before the content', async (addOn, context) => addOn.beforeContent?.(context))
    const content = await this.drawBlocks(order.page.body)
    const afterContent: string[] = []
    const tags: Tag[] = []
    const slots: Partial<Record<Slot, string>> = {}
    await this.each('after the content', async (addOn, context) => {
      afterContent.push(this.marked(addOn, (await addOn.afterContent?.(context)) ?? ''))
      tags.push(...addOn.tags(context).map((tag) => ({ ...tag, html: this.marked(addOn, tag.html) })))
      for (const [slot, draw] of Object.entries(addOn.slots ?? {}))
        slots[slot as Slot] = (slots[slot as Slot] ?? '') + this.marked(addOn, await draw(context))
    })
    const drawn = renderPage(order.page, content, afterContent.join('\n'), tags, slots, order.person)
    const made = this.running.reduce((html, addOn) => addOn.filter?.(html) ?? html, drawn)
    const sources = ownSources(order.addOns, order.ownHosts, order.copiesOf)
    return order.glue(rewritePage(made, this.effects, sources, order.address, order))
  }

  private marked({ manifest: { slug } }: AddOn, html: string): string {
    return this.order.marks && html !== '' ? `<!--unvelt:${slug}-->${html}<!--/unvelt:${slug}-->` : html
  }

  private async each(what: string, run: (addOn: AddOn, context: PageContext) => Promise<void>): Promise<void> {
    for (const addOn of this.running)
      await this.trace.step(addOn.manifest.slug, () => run(addOn, this.contextOf(addOn)), what)
  }

  private contextOf({ manifest }: AddOn): PageContext {
    const { page, pages, addOns, address, visit, person, basket, database, deliveryOrigin } = this.order
    const off = new Set(
      this.effects
        .filter((e) => e.addon === manifest.slug && e.feature && ['skip', 'leave-out'].includes(e.effect))
        .map((e) => e.feature),
    )
    const set = new Map(
      this.effects
        .filter((e) => e.addon === manifest.slug && e.effect === 'set')
        .map((e) => [e.setting!, e.value!] as const),
    )
    return {
      page,
      address,
      visit,
      person,
      basket,
      database,
      pages,
      installed: addOns,
      trace: this.trace,
      feature: (slug) => !off.has(slug) && manifest.features.some((f) => f.slug === slug && f.on),
      setting: (slug) => set.get(slug) ?? manifest.settings?.find((s) => s.slug === slug)?.value ?? 0,
      delivered: (path) => deliveryOrigin + path,
    }
  }

  /**
   * Draws `[[name attribute="value"]]`. A block whose add-on doesn't run, or whose switch is off, stays as it is written,
   * as in real systems.
   */
  private async drawBlocks(body: string): Promise<string> {
    const parts: string[] = []
    let from = 0
    for (const match of body.matchAll(BLOCK)) {
      const { name, attributes } = readBlock(match)
      const addOn = this.running.find((a) => a.blocks && Object.hasOwn(a.blocks, name))
      parts.push(body.slice(from, match.index))
      from = match.index + match[0].length
      const context = addOn && this.contextOf(addOn)
      const feature = addOn?.featureOfBlock?.(name, attributes)
      if (!context || (feature !== undefined && !context.feature(feature))) parts.push(match[0])
      else
        parts.push(
          this.marked(
            addOn,
            await this.trace.step(
              addOn.manifest.slug,
              () => addOn.blocks![name]!(context, attributes),
              `the block ${name}`,
            ),
          ),
        )
    }
    parts.push(body.slice(from))
    return parts.join('')
  }
}

export const BLOCK = /\[\[([a-z-]+)([^\]]*)\]\]/g

export function readBlock([, name = '', attributes = '']: RegExpMatchArray) {
  return {
    name,
    attributes: Object.fromEntries([...attributes.matchAll(/([a-z]+)="([^"]*)"/g)].map((m) => [m[1]!, m[2]!])),
  }
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
