import type { Page, Response } from 'playwright-core'
import { otherPage, type OtherPage, type PageSigns, type RequestRecord } from '@unvelt/core'
import { ReadingFailure } from '../reading/failure.js'
import { withinTime } from './within-time.js'

const MOST = { texts: 12, text: 200, characters: 20_000, copies: 60, loads: 200 }
const LONGEST_TITLE = 80
const REFUSAL_MS = 2_000

/** What the browser knows of the document beside what is on it. */
export interface Arrived {
  asked: string
  status: number | null
  headers: Readonly<Record<string, string>>
}

export const arrivedAt = (asked: string, document: RequestRecord | undefined): Arrived => ({
  asked,
  status: document?.status ?? null,
  headers: document?.responseHeaders ?? {},
})

/** Whoever refuses may say why, and is not waited for. @throws ReadingFailure always. */
export async function refuseRefused(page: Page, response: Response, asked: string): Promise<never> {
  const status = response.status()
  const look = async () => signsOf(page, { asked, status, headers: await response.allHeaders() })
  const looked = withinTime(REFUSAL_MS, look(), 'It says no more.')
  const signs = await looked.catch(() => null)
  const is = signs && otherPage(signs)
  throw new ReadingFailure(`The page answered ${status}${is ? `: ${WHAT_CAME[is](signs)}` : ''}.`)
}

/** @throws ReadingFailure where something else stands in the page's place. */
export async function refuseOtherPage(page: Page, arrived: Arrived): Promise<void> {
  // Who can't be asked may still be read, or fails by what comes next.
  const signs = await signsOf(page, arrived).catch(() => null)
  const is = signs && otherPage(signs)
  if (is) throw new ReadingFailure(`Something else came in the page’s place: ${WHAT_CAME[is](signs)}.`)
}

/** As the end of a sentence. */
const WHAT_CAME: Record<OtherPage, (signs: PageSigns) => string> = {
  challenge: () => 'a firewall asks the visitor to prove to be human',
  maintenance: () => 'the site says that it is being maintained',
  'log-in': ({ arrived }) => `the visitor was sent to ${pathOf(arrived)} to sign in`,
  error: ({ title, texts }) =>
    `it says that it is an error (“${(title || texts[0] || '').slice(0, LONGEST_TITLE)}”), though its status does not`,
  'other-language': ({ arrived, language }) =>
    `the visitor was sent to its copy in another language (${language}), ${pathOf(arrived)}`,
}
const pathOf = (address: string) => address.replace(/[?#].*$/, '').slice(0, LONGEST_TITLE)

/** What a page says of itself may be anything, so only what is as it should be is taken. */
async function signsOf(page: Page, { asked, status, headers }: Arrived): Promise<PageSigns> {
  const said: unknown = await page.evaluate(askSigns, MOST)
  const on = (said && typeof said === 'object' ? said : {}) as Record<string, unknown>
  const text = (value: unknown) => (typeof value === 'string' ? value : '')
  const list = (value: unknown) => (Array.isArray(value) ? (value as unknown[]) : [])
  return {
    status,
    headers,
    asked: shortPath(asked),
    arrived: shortPath(page.url()),
    title: text(on.title),
    texts: list(on.texts).map(text),
    textLength: typeof on.textLength === 'number' ? on.textLength : Number.POSITIVE_INFINITY,
    language: text(on.language) || null,
    copies: list(on.copies).flatMap((copy) => {
      const [language, path] = list(copy).map(text)
      return language && path ? [{ language, path }] : []
    }),
    asksPassword: on.asksPassword === true,
    loads: list(on.loads).map(text),
  }
}

const shortPath = (address: string) => {
  const { pathname, search } = new URL(address)
  return pathname + search
}

/** Runs in the page. */
function askSigns(most: typeof MOST) {
  const seen = (element: Element) => {
    const { width, height } = element.getBoundingClientRect()
    return width > 1 && height > 1
  }
  const short = (text: string | null) => (text ?? '').replace(/\s+/g, ' ').trim().slice(0, most.text)
  const all = (selector: string) => [...document.querySelectorAll(selector)]
  return {
    title: short(document.title),
    texts: all('h1, h2, p')
      .filter(seen)
      .map((element) => short(element.textContent))
      .filter(Boolean)
      .slice(0, most.texts),
    textLength: (document.body?.innerText ?? '').slice(0, most.characters).length,
    language: short(document.documentElement.lang),
    copies: (all('link[rel~="alternate"][hreflang]') as HTMLLinkElement[])
      .filter(({ href }) => href.startsWith(`${location.origin}/`))
      .slice(0, most.copies)
      .map(({ hreflang, href }) => [hreflang, href.slice(location.origin.length)]),
    asksPassword: all('input[type=password]').some(seen),
    loads: (all('script[src], iframe[src]') as HTMLScriptElement[])
      .slice(0, most.loads)
      .map(({ src }) => src.slice(0, most.text)),
  }
}
