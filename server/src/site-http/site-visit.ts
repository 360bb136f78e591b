import { CookieJar } from 'tough-cookie'
import type { Response } from 'undici'
import type { Reach } from '../reach/reach.js'
import { ownAddress } from '@unvelt/core'
import { siteAddress } from './site-address.js'
import { boundedText, siteFetch } from './site-fetch.js'

const MOST_HOPS = 5
const MOST_PAGE_BYTES = 4e6

export interface Answer {
  url: string
  status: number
  /** Where it sends the visitor on to, as an absolute address. */
  location: string | null
  html: string
}

/** A visit to one site without a browser, which keeps its cookies from one call to the next as a browser would. */
export class SiteVisit {
  private readonly jar = new CookieJar(undefined, { rejectPublicSuffixes: false })

  constructor(
    private readonly origin: string,
    private readonly reach: Reach,
  ) {}

  /** A page, wherever on this site it sends the visitor on to. */
  async get(path: string): Promise<Answer> {
    let answer = await this.ask(path, { method: 'GET' })
    for (let hops = 0; answer.location && this.isOwn(answer.location) && hops < MOST_HOPS; hops++)
      answer = await this.ask(answer.location, { method: 'GET' })
    return answer
  }

  /** Sends a form, and goes nowhere from there. */
  post(path: string, fields: Record<string, string>): Promise<Answer> {
    return this.ask(path, {
      method: 'POST',
      body: new URLSearchParams(fields).toString(),
      headers: { 'content-type': 'application/x-www-form-urlencoded' },
    })
  }

  isOwn(address: string): boolean {
    return ownAddress(this.origin, address) !== null
  }

  /** All that the site has set and not taken back, whatever part of it they are for, as `Cookie` has them. */
  async cookies(): Promise<string> {
    const { cookies } = await this.jar.serialize()
    return cookies.map(({ key, value }) => `${key}=${value}`).join('; ')
  }

  private async ask(
    address: string,
    { headers, ...init }: { method: string; body?: string; headers?: Record<string, string> },
  ): Promise<Answer> {
    const url = siteAddress(this.origin, address).href
    const cookie = await this.jar.getCookieString(url)
    const response = await siteFetch(url, {
      reach: this.reach,
      ...init,
      headers: { ...headers, accept: 'text/html', ...(cookie && { cookie }) },
    })
    for (const line of response.headers.getSetCookie())
      await this.jar.setCookie(line, url, { ignoreError: true }).catch(() => null)
    return { url, status: response.status, location: locationOf(response, url), html: await htmlOf(response) }
  }
}

function locationOf(response: Response, url: string): string | null {
  const location = response.headers.get('location')
  if (response.status < 300 || response.status >= 400 || location === null) return null
  return URL.canParse(location, url) ? new URL(location, url).href : null
}

async function htmlOf(response: Response): Promise<string> {
  if (/html/.test(response.headers.get('content-type') ?? '')) return boundedText(response, MOST_PAGE_BYTES)
  await response.body?.cancel()
  return ''
}
