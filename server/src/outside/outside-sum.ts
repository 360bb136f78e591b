import { median, type BroughtIn, type OutsideOfPage, type Reading } from '@unvelt/core'
import type { FaceUse, Outside, OutsideHost, OutsidePayer, RedirectChain } from '@unvelt/contract'

const MOST_CHAINS = 200

/** Adds up what the pages have from outside. Payers are named by their slugs. */
export class OutsideSum {
  private pages = 0
  private readonly own = { requests: 0, transferBytes: 0 }
  private readonly payers = new Map<string, OutsidePayer>()
  private readonly brought = new Map<string, { pages: number; by: BroughtIn }[]>()
  private readonly chains = new Map<string, RedirectChain>()
  private readonly slowest = new Map<OutsideHost, number[]>()
  private readonly faces = new Map<string, FaceUse>()

  add(reading: Reading, { own, hosts, brought, chains }: OutsideOfPage): void {
    this.pages += 1
    this.own.requests += own.requests
    this.own.transferBytes += own.transferBytes
    const seen = new Set<string>()
    const payerOfHost = new Map<string, string>()
    for (const share of hosts) {
      payerOfHost.set(share.host, share.payer)
      const payer = this.payer(share.payer)
      const host = hostOf(payer, share.host)
      host.requests += share.requests
      host.transferBytes += share.transferBytes
      host.slowestMs = Math.max(host.slowestMs, share.slowestMs)
      host.failed += share.failed
      this.slowest.set(host, [...(this.slowest.get(host) ?? []), share.slowestMs])
      host.pages += 1
      payer.requests += share.requests
      payer.transferBytes += share.transferBytes
      if (!seen.has(share.payer)) payer.pages += 1
      seen.add(share.payer)
    }
    for (const by of brought) {
      const ways = this.brought.get(by.to) ?? []
      const known = ways.find((way) => way.by.from === by.from && way.by.how === by.how)
      if (known) known.pages += 1
      else ways.push({ pages: 1, by })
      this.brought.set(by.to, ways)
    }
    const onThisPage = new Set<string>()
    for (const addresses of chains) {
      const hops = addresses.map((address) => address.split('?', 1)[0]!)
      const key = hops.join('\n')
      const last = new URL(addresses.at(-1)!).host
      const chain = this.chains.get(key) ?? { payer: payerOfHost.get(last) ?? last, hops, pages: 0 }
      if (!onThisPage.has(key)) chain.pages += 1
      onThisPage.add(key)
      if (this.chains.size < MOST_CHAINS) this.chains.set(key, chain)
    }
    for (const { family, weight, style, drawn } of reading.fonts) {
      const key = `${family}\n${weight}\n${style}`
      const face = this.faces.get(key) ?? { family, weight, style, declared: 0, drawn: 0 }
      face.declared += 1
      face.drawn += drawn ? 1 : 0
      this.faces.set(key, face)
    }
  }

  result(): Omit<Outside, 'sweepId' | 'lens'> {
    const heaviest = (a: { transferBytes: number }, b: { transferBytes: number }) => b.transferBytes - a.transferBytes
    for (const payer of this.payers.values()) {
      payer.hosts.sort(heaviest)
      for (const host of payer.hosts)
        Object.assign(host, this.usualWay(host.host), { usualMs: median(this.slowest.get(host)!) })
    }
    return {
      pages: this.pages,
      ownRequests: this.own.requests,
      ownTransferBytes: this.own.transferBytes,
      payers: [...this.payers.values()].sort(heaviest),
      chains: [...this.chains.values()].sort((a, b) => b.pages - a.pages || b.hops.length - a.hops.length),
      faces: [...this.faces.values()].sort(
        (a, b) => a.family.localeCompare(b.family) || Number(a.weight) - Number(b.weight),
      ),
    }
  }

  /** How a host comes into most pages. */
  private usualWay(host: string): Pick<OutsideHost, 'broughtBy' | 'how'> {
    const [usual] = [...(this.brought.get(host) ?? [])].sort((a, b) => b.pages - a.pages)
    return { broughtBy: usual?.by.from ?? null, how: usual?.by.how ?? 'tag' }
  }

  private payer(slug: string): OutsidePayer {
    const known = this.payers.get(slug)
    if (known) return known
    const payer = { payer: slug, name: slug, requests: 0, transferBytes: 0, pages: 0, hosts: [] }
    this.payers.set(slug, payer)
    return payer
  }
}

function hostOf(payer: OutsidePayer, host: string): OutsideHost {
  const known = payer.hosts.find((h) => h.host === host)
  if (known) return known
  const fresh = {
    host,
    requests: 0,
    transferBytes: 0,
    pages: 0,
    slowestMs: 0,
    usualMs: 0,
    failed: 0,
    broughtBy: null,
    how: 'tag',
  }
  payer.hosts.push(fresh)
  return fresh
}
