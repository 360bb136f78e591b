import { randomBytes } from 'node:crypto'
import type { RequestListener, Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { Inject, Injectable, type BeforeApplicationShutdown } from '@nestjs/common'
import { HttpAdapterHost } from '@nestjs/core'
import type { Preview, PreviewChange, PreviewRequest } from '@unvelt/contract'
import { createGate, type GateSite, type Own, type Refusal } from '@unvelt/gate'
import { CONFIG } from '../config/config.module.js'
import type { Config } from '../config/config.js'
import { SiteEvents } from '../events/site-events.js'
import { log } from '../log/log.js'
import { notFound, ProblemError } from '../problem/problem.error.js'
import { checkLiteral, lookupWithin, reachOf } from '../reach/reach.js'
import { LiveRulesService } from '../rule/live-rules.service.js'
import { mappedAddress } from '../site-http/mapped-address.js'
import { PinnedAgent } from '../site-http/pinned-agent.js'
import { accessFor } from '../site-http/site-access.js'
import { whyUnreachable } from '../site-http/site-fetch.js'
import type { PinnedCertificate } from '../site-http/site-way.js'
import type { SiteRow } from '../site/site.model.js'
import { PAGE_LABEL, previewLabel, readPreviewHost } from './preview-address.js'
import { answerWindow } from './preview-window.js'
import { PreviewSession } from './preview-session.js'

const OPEN_MS = 2 * 60 * 60_000
const MOST_OPEN = 50
const OVER = 'This preview has run out. Open the page as it would be once more, from the draft tray in Unvelt.'

const originOf = (text: string | null) => (text !== null && URL.canParse(text) ? new URL(text).origin : null)

/** Opens previews, and shows them through a gate on a port of its own, so that no site's script runs on Unvelt's origin. */
@Injectable()
export class PreviewService implements BeforeApplicationShutdown {
  private readonly agents = new Map<string, PinnedAgent>()
  private readonly sessions = new Map<string, PreviewSession>()
  private gate: Server | null = null

  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly live: LiveRulesService,
    private readonly events: SiteEvents,
    private readonly adapter: HttpAdapterHost,
  ) {}

  /** Begins to answer on the preview port. */
  async listen(): Promise<void> {
    const gate = createGate((host) => this.siteAt(host))
    await new Promise<void>((resolve, reject) => {
      gate.once('error', reject)
      gate.listen(this.config.previewPort, this.config.host, resolve)
    })
    this.gate = gate
  }

  beforeApplicationShutdown(): void {
    this.gate?.closeAllConnections()
    this.gate?.close()
  }

  /** Where previews are, as a content policy names it; null while there are none. */
  get origins(): string | null {
    return this.gate && `http://*.${this.config.previewHost}:${this.port}`
  }

  private get port(): number {
    return (this.gate!.address() as AddressInfo).port
  }

  async open(site: SiteRow, { device = 'desk' }: PreviewRequest, openedFrom: string | null): Promise<Preview> {
    if (!this.gate) throw new ProblemError(503, 'Previews are not to be had: nothing listens on their port.')
    this.forgetOld()
    const id = [...randomBytes(10)].map((byte) => (byte % 36).toString(36)).join('')
    const expiresAt = Date.now() + OPEN_MS
    const session = new PreviewSession(
      {
        id,
        siteId: site.id,
        expiresAt,
        device,
        window: this.windowOf(id, expiresAt),
        windowKey: randomBytes(18).toString('base64url'),
        openedFrom: originOf(openedFrom),
      },
      this.live,
      this.config.secret,
    )
    await session.now()
    this.sessions.set(id, session)
    return { ...this.view(session), windowKey: session.wish.windowKey }
  }

  get(id: string): Preview {
    return this.view(this.find(id))
  }

  /** Null where it has run out. */
  current(id: string): Preview | null {
    const session = this.sessions.get(id)
    return session ? this.view(session) : null
  }

  change(id: string, { off, device, visitor, recording }: PreviewChange): Preview {
    const session = this.find(id)
    if (off) session.off = new Set(off)
    if (device) session.device = device
    if (visitor) session.visitor = visitor
    if (recording !== undefined) session.isRecording = recording
    session.changed()
    return this.view(session)
  }

  close(id: string): void {
    const session = this.find(id)
    this.sessions.delete(id)
    void session.end().catch(() => {})
  }

  private find(id: string): PreviewSession {
    const session = this.sessions.get(id)
    if (!session || session.wish.expiresAt < Date.now()) throw notFound('preview')
    return session
  }

  /** The oldest go first where there are too many. */
  private forgetOld(): void {
    const over = [...this.sessions.values()].filter(({ wish }) => wish.expiresAt < Date.now())
    const most = [...this.sessions.values()].slice(0, Math.max(0, this.sessions.size - over.length - MOST_OPEN + 1))
    for (const session of [...over, ...most]) {
      this.sessions.delete(session.wish.id)
      void session.end().catch(() => {})
    }
  }

  private windowOf(id: string, expiresAt: number): string {
    return `http://${previewLabel(id, expiresAt, this.config.secret)}.${this.config.previewHost}:${this.port}`
  }

  private view({ wish, off, device, visitor, isRecording, path, status, mechanism }: PreviewSession): Preview {
    return {
      id: wish.id,
      siteId: wish.siteId,
      address: wish.window.replace('//', `//${PAGE_LABEL}.`),
      window: wish.window,
      openedFrom: wish.openedFrom,
      expiresAt: new Date(wish.expiresAt).toISOString(),
      off: [...off],
      device,
      visitor,
      recording: isRecording,
      mechanism,
      path,
      status,
    }
  }

  private windowAround({ wish: { id, siteId, windowKey } }: PreviewSession): Own {
    const unvelt = this.adapter.httpAdapter.getInstance() as RequestListener
    return { answer: answerWindow(unvelt, { siteId, previewId: id, windowKey, ownHost: this.config.hosts[0]! }) }
  }

  private agentFor(certificate: PinnedCertificate): PinnedAgent {
    const agent = this.agents.get(certificate.fingerprint) ?? new PinnedAgent(certificate)
    this.agents.set(certificate.fingerprint, agent)
    return agent
  }

  private async siteAt(host: string): Promise<GateSite | Refusal | Own> {
    const read = readPreviewHost(host, this.config.secret, Date.now())
    if (read === 'unknown') return { status: 404, why: 'No preview has this address. It may have been mistyped.' }
    if (read === 'over') return { status: 410, why: OVER }
    const session = this.sessions.get(read.id)
    if (!session) return { status: 410, why: `It was closed, or Unvelt was started anew meanwhile. ${OVER}` }
    if (read.part === 'window') return this.windowAround(session)
    const { site } = await session.now()
    const reach = reachOf(site)
    return {
      origin: site.address,
      lookup: lookupWithin(reach, mappedAddress),
      ...(site.certificate && { safely: this.agentFor(site.certificate) }),
      framedBy: session.wish.window,
      isSafe: this.config.previewHost === 'localhost' || this.config.previewHost.endsWith('.localhost'),
      headers: async (url) => {
        checkLiteral(url.hostname, reach)
        return { ...(await accessFor(url.host)), ...(await session.headers(url)) }
      },
      plan: (url) => session.plan(url),
      triesAgain: async (status) => {
        if (status !== 409 || session.mechanism !== 'site') return false
        session.lost()
        return true
      },
      opened: (url, status) => {
        session.path = url.pathname + url.search
        session.status = status
        this.events.news.next({ siteId: site.id, previewId: session.wish.id })
      },
      whyFailed: (error) => {
        log.warn({ preview: session.wish.id, error: (error as Error).message }, 'preview failed')
        return error instanceof Error && /^The connector|site’s rules/.test(error.message)
          ? error.message
          : whyUnreachable(error, new URL(site.address).host)
      },
    }
  }
}
