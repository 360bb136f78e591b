import type { IncomingMessage, ServerResponse } from 'node:http'
import type { Agent as HttpsAgent } from 'node:https'
import type { LookupFunction } from 'node:net'
import type { RewritePlan } from '@unvelt/core'

/** The site that a gate stands before, as one visit of it sees it. */
export interface GateSite {
  /** Where the site itself answers, such as `http://example.test:8080`. */
  origin: string
  /** How its name becomes an address; the system's own way where there is none. */
  lookup?: LookupFunction
  /** Takes the certificates that it is to take; those that browsers take where there is none. */
  safely?: HttpsAgent
  /** Whoever may show the site's pages in a frame; null lets only the gate itself. */
  framedBy: string | null
  /** Whether browsers take the gate's host for safe without TLS, as those below `localhost`; else no cookie may ask for that. */
  isSafe: boolean
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

/** What stands beside the sites and is answered by whoever runs the gate. */
export interface Own {
  answer(request: IncomingMessage, response: ServerResponse): void
}

export type Open = (host: string) => Promise<GateSite | Refusal | Own>

export const isSite = (found: GateSite | Refusal | Own): found is GateSite => 'origin' in found
