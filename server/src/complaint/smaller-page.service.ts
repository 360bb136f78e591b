import { Injectable } from '@nestjs/common'
import type { SmallerPage } from '@unvelt/contract'
import type { OnDemand } from '../on-demand/on-demand.model.js'
import { OnDemandService } from '../on-demand/on-demand.service.js'
import { PageRow } from '../page/page.model.js'
import { notFound, ProblemError } from '../problem/problem.error.js'
import { siteAddress } from '../site-http/site-address.js'
import { SiteRow } from '../site/site.model.js'
import { CauseSearchRow } from './cause.model.js'

/** So many of a page are looked through for the one of a search. */
const MOST_OF_PAGE = 20

/** It is asked for again and again while it is made, and longer ones are no reading for anybody. */
const LONGEST_SHOWN = 20_000

/** The smallest page that shows a complaint, made on request (worker/read-smaller.ts). */
@Injectable()
export class SmallerPageService {
  constructor(private readonly onDemand: OnDemandService) {}

  async start(causeId: number): Promise<SmallerPage> {
    const search = await searchOf(causeId)
    if (search.kind === 'guard')
      throw new ProblemError(409, 'Only what a page complains of can be cut down to what it complains for.')
    if (search.state === 'running') throw new ProblemError(409, 'What causes it is still being looked for.')
    const { siteId, pageId } = search
    await this.onDemand.start('smaller', { siteId, pageId }, { causeId }, 'The page is being cut down already.')
    return this.view(causeId)
  }

  async view(causeId: number): Promise<SmallerPage> {
    const made = await this.newest(await searchOf(causeId))
    if (!made)
      return { state: 'none', failure: null, readings: 0, parts: 0, left: 0, wholeBytes: 0, bytes: null, html: null }
    const { source, tries, parts, left, html } = made.taken
    return {
      state: made.state,
      failure: made.failure,
      readings: tries.length + Number(source !== null),
      parts,
      left,
      wholeBytes: source?.length ?? 0,
      bytes: html?.length ?? null,
      html: html === null || html.length > LONGEST_SHOWN ? null : readable(html),
    }
  }

  /** What was cut off so far stays cut off. */
  async stop(causeId: number): Promise<SmallerPage> {
    const made = await this.newest(await searchOf(causeId))
    if (!made) throw notFound('page cut down')
    await this.onDemand.stop(made.id)
    return this.view(causeId)
  }

  /** The file, which finds what it asks for at the site wherever it is opened from. */
  async file(causeId: number): Promise<Buffer> {
    const search = await searchOf(causeId)
    const made = await this.newest(search)
    if (!made?.taken.html) throw notFound('page cut down')
    const [site, page] = await Promise.all([SiteRow.findByPk(search.siteId), PageRow.findByPk(search.pageId)])
    const base = `<base href="${siteAddress(site!.address, page!.path).href.replaceAll('"', '%22')}">\n`
    const { html } = made.taken
    const head = /<head\b[^>]*>/i.exec(html) ?? /<html\b[^>]*>/i.exec(html) ?? /<!doctype[^>]*>/i.exec(html)
    const at = head ? head.index + head[0].length : 0
    return Buffer.from(html.slice(0, at) + base + html.slice(at), 'latin1')
  }

  private async newest({ id, siteId, pageId }: CauseSearchRow): Promise<OnDemand<'smaller'> | undefined> {
    const made = await this.onDemand.newest('smaller', { siteId, pageId }, MOST_OF_PAGE)
    return made.find(({ wish }) => wish.causeId === id)
  }
}

/** A character for each byte back to text, as far as it is UTF-8. */
const readable = (html: string) => Buffer.from(html, 'latin1').toString('utf8')

async function searchOf(id: number): Promise<CauseSearchRow> {
  const search = await CauseSearchRow.findByPk(id)
  if (!search) throw notFound('search')
  return search
}
