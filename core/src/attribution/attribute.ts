import type { InlineCode, Reading, RequestRecord, ScriptTime, StackFrame } from '../reading/reading.js'
import { addressBook, type AddressBook } from './address-book.js'
import type { GluedShare } from '../glue/split-request.js'
import { CMS, CONTENT, GLUED, outsiderPayer, ownFolderPayer, UNASSIGNED, type Charge } from './evidence.js'
import { inlineAt } from '../reading/inline-place.js'
import { ownFolder } from './own-folder.js'
import type { AttributionSources } from './sources.js'

export interface Attribution {
  /** Request id → who pays for it and why. Every request of the reading is in it. */
  requests: Map<string, Charge>
  /** Request id → whose code a glued file holds, in order. Its bytes are split by that. */
  shares: Map<string, GluedShare[]>
  /** One charge per inline code, in the reading's order; null where it belongs to the document. */
  inlineCode: (Charge | null)[]
  /** One charge per entry of the reading's main-thread time, in its order. */
  mainThread: Charge[]
  /** One charge per maker of elements, in the reading's order; null for the page's own HTML. */
  elements: (Charge | null)[]
}

/** Charges every request and every piece of inline code of a reading to exactly one payer. */
export function attribute(reading: Reading, sources: AttributionSources): Attribution {
  return new Attributor(reading, sources).run()
}

class Attributor {
  private readonly charges = new Map<string, Charge>()
  private readonly shares = new Map<string, GluedShare[]>()
  private readonly underWay = new Set<string>()
  private readonly byId = new Map<string, RequestRecord>()
  private readonly byUrl = new Map<string, RequestRecord>()
  private readonly documentUrls = new Set<string>()
  private readonly book: AddressBook
  private readonly inlineCharges: (Charge | null)[]
  private readonly inlineOf: (line: number, column?: number) => number
  private readonly libraries: ReadonlySet<string>
  /** Folders of the site's own that code came from, where nobody says whose they are. */
  private readonly codeFolders: ReadonlySet<string>

  constructor(
    private readonly reading: Reading,
    private readonly sources: AttributionSources,
  ) {
    for (const request of reading.requests) {
      this.byId.set(request.id, request)
      const url = withoutHash(request.url)
      if (!this.byUrl.has(url)) this.byUrl.set(url, request)
      if (request.type === 'document') this.documentUrls.add(url)
    }
    this.book = addressBook(sources)
    this.inlineOf = inlineAt(reading.inlineCode)
    this.libraries = new Set(sources.libraries)
    this.codeFolders = new Set(sources.byOwnFolders ? this.foldersOfCode() : [])
    this.inlineCharges = reading.inlineCode.map((code) => this.chargeInline(code))
  }

  run(): Attribution {
    for (const request of this.reading.requests) this.charge(request)
    return {
      requests: this.charges,
      shares: this.shares,
      inlineCode: this.inlineCharges,
      elements: this.reading.elementMakers.map(({ stack }) => this.chargeOfStack(stack)),
      mainThread: this.reading.mainThread.map((time) => this.chargeTime(time)),
    }
  }

  /** Time is charged to whose code it was spent in; code in the page that is nobody's is the page's own. */
  private chargeTime({ url: address, line, column }: ScriptTime): Charge {
    const charge = address === '' ? null : this.chargeOfCode(address, line ?? undefined, column)
    if (charge) return charge
    return this.documentUrls.has(withoutHash(address))
      ? { payer: CONTENT, evidence: 'folder', because: 'code in the page' }
      : { payer: UNASSIGNED, evidence: 'unassigned', because: address === '' ? 'no script' : address }
  }

  /** Charges a request, and before it whatever asked for it and is not charged yet; a chain may be of any length. */
  private charge(request: RequestRecord): void {
    const waiting = [request]
    while (waiting.length > 0) {
      const next = waiting.at(-1)!
      if (this.charges.has(next.id)) {
        waiting.pop()
        continue
      }
      if (!this.underWay.has(next.id)) {
        this.underWay.add(next.id)
        const direct = this.byGlue(next) ?? this.byAddress(next.url)
        if (direct) this.charges.set(next.id, direct)
        // A chain that bites its own tail says nothing about who began it.
        else waiting.push(...this.askersOf(next).filter(({ id }) => !this.underWay.has(id)))
        continue
      }
      this.charges.set(
        next.id,
        this.byInitiator(next) ??
          this.byOutsider(next.url) ??
          this.byFolder(next) ?? { payer: UNASSIGNED, evidence: 'unassigned', because: 'no evidence' },
      )
      waiting.pop()
    }
  }

  /** The requests whose code asked for one. */
  private askersOf({ redirectedFrom, initiator }: RequestRecord): RequestRecord[] {
    const redirecting = redirectedFrom ? this.byId.get(redirectedFrom) : undefined
    if (redirecting && redirecting.type !== 'document') return [redirecting]
    const addresses = [...(initiator.stack ?? []).map(({ url }) => url), ...(initiator.url ? [initiator.url] : [])]
    return [...new Set(addresses)].flatMap((address) => this.byUrl.get(withoutHash(address)) ?? [])
  }

  /** A file that the register says is glued is charged to nobody in particular; its bytes are split by its parts. */
  private byGlue(request: RequestRecord): Charge | null {
    const url = parseUrl(request.url)
    const path = url ? this.book.gluedAt(url) : undefined
    if (path === undefined) return null
    const parts = this.sources.glued![path]!
    this.shares.set(
      request.id,
      parts.map(({ addon, from, bytes }) => ({ payer: addon ?? UNASSIGNED, from, bytes })),
    )
    const because = this.sources.mapped?.includes(path) ? `source map of ${path}` : path
    return { payer: GLUED, evidence: 'register', because }
  }

  /** Evidence 1 to 3: register, folder prefix, the maintainer's own pattern. */
  private byAddress(address: string): Charge | null {
    const url = parseUrl(address)
    return url && this.book.byAddress(url)
  }

  /** Evidence 4: inline code by its element's id, or by what it says. */
  private chargeInline(code: InlineCode): Charge | null {
    for (const known of this.sources.inline) {
      if (known.elementId !== undefined && known.elementId === code.elementId)
        return { payer: known.addon, evidence: 'inline', because: `#${code.elementId}` }
      if (known.hash !== undefined && known.hash === code.hash)
        return { payer: known.addon, evidence: 'inline', because: `code ${code.hash}` }
    }
    return null
  }

  /** Evidence 4 and 5: what a payer's inline code, script or stylesheet asks for, through any number of steps. */
  private byInitiator(request: RequestRecord): Charge | null {
    const redirecting = request.redirectedFrom ? this.byId.get(request.redirectedFrom) : undefined
    if (redirecting && redirecting.type !== 'document') return this.inherit(redirecting)
    const { initiator } = request
    const charge = this.chargeOfStack(initiator.stack ?? [])
    if (charge) return charge
    return initiator.url
      ? this.chargeOfCode(initiator.url, initiator.type === 'script' ? initiator.line : undefined)
      : null
  }

  private chargeOfStack(stack: readonly StackFrame[]): Charge | null {
    let library: Charge | null = null
    for (const frame of stack) {
      const charge = this.chargeOfCode(frame.url, frame.line, frame.column)
      // The CMS's own loader asks on behalf of whoever called it, so the search goes on outwards; and so does a library.
      if (!charge || charge.payer === CMS || charge.payer === CONTENT) continue
      if (!this.libraries.has(charge.payer)) return charge
      library ??= charge
    }
    return library
  }

  private chargeOfCode(address: string, line: number | undefined, column?: number): Charge | null {
    const url = withoutHash(address)
    if (this.documentUrls.has(url)) {
      const index = line === undefined ? -1 : this.inlineOf(line, column)
      return index < 0 ? null : (this.inlineCharges[index] ?? null)
    }
    const file = this.byUrl.get(url)
    return file ? this.inherit(file) : null
  }

  private inherit(from: RequestRecord): Charge | null {
    const payer = this.charges.get(from.id)?.payer ?? UNASSIGNED
    return payer === UNASSIGNED ? null : { payer, evidence: 'initiator', because: from.url }
  }

  /** Evidence 6: the outsider's registrable domain. */
  private byOutsider(address: string): Charge | null {
    const url = parseUrl(address)
    if (!url || this.book.isOwn(url.host)) return null
    const { domain, addon } = this.book.outsider(url)
    return { payer: addon ?? outsiderPayer(domain), evidence: 'outsider', because: domain }
  }

  /** Evidence 7: the page itself, the theme's, the CMS's or the content's folder. */
  private byFolder(request: RequestRecord): Charge | null {
    const url = parseUrl(request.url)
    if (!url) return null
    if (request.type === 'document') return { payer: CONTENT, evidence: 'folder', because: 'the page itself' }
    const folder = this.sources.folders
      .filter((f) => url.pathname.startsWith(f.prefix))
      .sort((a, b) => b.prefix.length - a.prefix.length)[0]
    if (folder) return { payer: folder.payer, evidence: 'folder', because: folder.prefix }
    return this.sources.byOwnFolders && this.book.isOwn(url.host)
      ? byOwnFolder(request.type, url.pathname, this.codeFolders)
      : null
  }

  private foldersOfCode(): string[] {
    return this.reading.requests.flatMap(({ type, url: address }) => {
      const url = CODE.has(type) ? parseUrl(address) : null
      return url && this.book.isOwn(url.host) ? [ownFolder(url.pathname)] : []
    })
  }
}

/**
 * Code and typefaces are some add-on's, and so are the pictures beside them; other pictures and films are the content's; of
 * anything else the address says nothing.
 */
function byOwnFolder(type: RequestRecord['type'], path: string, codeFolders: ReadonlySet<string>): Charge | null {
  const folder = ownFolder(path)
  // Browsers ask for the site's sign by themselves.
  const isShown = type === 'picture' || type === 'media' || path === '/favicon.ico'
  if (CODE.has(type) || (isShown && folder !== path && codeFolders.has(folder)))
    return { payer: ownFolderPayer(folder), evidence: 'folder', because: folder }
  return isShown ? { payer: CONTENT, evidence: 'folder', because: folder } : null
}

const CODE: ReadonlySet<RequestRecord['type']> = new Set(['script', 'style', 'font'])

/** Nearly all can be read, so asking first would read each of them twice. */
function parseUrl(address: string): URL | null {
  try {
    return new URL(address)
  } catch {
    return null
  }
}
function withoutHash(address: string): string {
  const at = address.indexOf('#')
  return at < 0 ? address : address.slice(0, at)
}
