import type { LookupFunction } from 'node:net'
import type { RewritePlan } from '@unvelt/core'

/** The site that a gate stands before, as one visit of it sees it. */
export interface GateSite {
  /** Where the site itself answers, such as `http://example.test:8080`. */
  origin: string
  /** How its name becomes an address; the system's own way where there is none. */
  lookup?: LookupFunction
  /** Whoever may show the site's pages in a frame; null lets only the gate itself. */
  framedBy: string | null
  /** Whether cookies have to come along from within somebody else's frame. */
  cookiesInFrames: boolean
  /** Headers that a request is sent on with, in the place of what the visitor sent. */
  headers(url: URL): Promise<Record<string, string>>
  /** What is to be done with a page; null leaves it as it is, but for its own addresses. */
  plan(url: URL): Promise<RewritePlan | null>
  /** Asked once for a request without a body whether an answer of the site's is worth a second try. */
  triesAgain?(status: number): Promise<boolean>
  /** A page has been asked for by somebody who went there. */
  opened?(url: URL, status: number): void
  /** Why the site gave no answer, as a sentence. */
  whyFailed?(error: unknown): string
}

/** Why there is nothing at a host name. */
export interface Refusal {
  status: 404 | 410
  /** Plain sentences. */
  why: string
}

export type Open = (host: string) => Promise<GateSite | Refusal>

export const isRefusal = (found: GateSite | Refusal): found is Refusal => 'why' in found
