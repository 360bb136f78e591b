import type { InlineCode, Reading, RequestRecord, StackFrame } from '../reading/reading.js'
import { addressBook, type AddressBook } from './address-book.js'
import type { GluedShare } from '../glue/split-request.js'
import { CMS, CONTENT, GLUED, outsiderPayer, ownFolderPayer, UNASSIGNED, type Charge } from './evidence.js'
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
    this.inlineCharges = reading.inlineCode.map((code) => this.chargeInline(code))
  }

  run(): Attribution {
    for (const request of this.reading.requests) this.charge(request)
    return {
      requests: this.charges,
      shares: this.shares,
      inlineCode: this.inlineCharges,
      elements: this.reading.elementMakers.map(({ stack }) => this.chargeOfStack(stack)),
      mainThread: this.reading.mainThread.map(({ url, line }) => this.chargeTime(url, line)),
    }
  }

  /** Time is charged to whose code it was spent in; code in the page that is nobody's is the page's own. */
  private chargeTime(address: string, line: number | null): Charge {
    const charge = address === '' ? null : this.chargeOfCode(address, line ?? undefined)
    if (charge) return charge
    return this.documentUrls.has(withoutHash(address))
      ? { payer: CONTENT, evidence: 'folder', because: 'code in the page' }
      : { payer: UNASSIGNED, evidence: 'unassigned', because: address === '' ? 'no script' : address }
  }

  private charge(request: RequestRecord): Charge {
    const known = this.charges.get(request.id)
    if (known) return known
    // A chain that bites its own tail says nothing about who began it.
    if (this.underWay.has(request.id)) return { payer: UNASSIGNED, evidence: 'unassigned', because: 'initiator loop' }
    this.underWay.add(request.id)
    const charge = this.byGlue(request) ??
      this.byAddress(request.url) ??
      this.byInitiator(request) ??
      this.byOutsider(request.url) ??
      this.byFolder(request) ?? { payer: UNASSIGNED, evidence: 'unassigned', because: 'no evidence' }
    this.underWay.delete(request.id)
    this.charges.set(request.id, charge)
    return charge
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
    for (const frame of stack) {
      const charge = this.chargeOfCode(frame.url, frame.line)
      // The CMS's own loader asks on behalf of whoever called it, so the search goes on outwards.
      if (charge && charge.payer !== CMS && charge.payer !== CONTENT) return charge
    }
    return null
  }

  private chargeOfCode(address: string, line: number | undefined): Charge | null {
    const url = withoutHash(address)
    if (this.documentUrls.has(url)) {
      if (line === undefined) return null
      const index = this.reading.inlineCode.findIndex((code) => line >= code.startLine && line <= code.endLine)
      return index < 0 ? null : (this.inlineCharges[index] ?? null)
    }
    const file = this.byUrl.get(url)
    return file ? this.inherit(file) : null
  }

  private inherit(from: RequestRecord): Charge | null {
    const { payer } = this.charge(from)
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
    return this.sources.byOwnFolders && this.book.isOwn(url.host) ? byOwnFolder(request.type, url.pathname) : null
  }
}

/** Code and typefaces are some add-on's, pictures and films the content's; of anything else the address says nothing. */
function byOwnFolder(type: RequestRecord['type'], path: string): Charge | null {
  const folder = ownFolder(path)
  if (type === 'script' || type === 'style' || type === 'font')
    return { payer: ownFolderPayer(folder), evidence: 'folder', because: folder }
  // Browsers ask for the site's sign by themselves.
  const shown = type === 'picture' || type === 'media' || path === '/favicon.ico'
  return shown ? { payer: CONTENT, evidence: 'folder', because: folder } : null
}

const parseUrl = (address: string): URL | null => (URL.canParse(address) ? new URL(address) : null)
const withoutHash = (address: string) => address.replace(/#.*$/, '')
