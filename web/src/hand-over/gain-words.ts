import type { ProofPage } from '@unvelt/contract'
import { bytes, count, milliseconds, plural } from '../figures/format.js'

interface Noticed {
  page: ProofPage
  /** By how much, without its sign. */
  by: number
  before: number
  after: number
}

/** The pages on which a measure was found to have fallen, or risen, the largest difference first. */
function noticed(pages: readonly ProofPage[], measure: string, word: 'better' | 'worse'): Noticed[] {
  return pages
    .flatMap((page): Noticed[] => {
      const figure = page.figures[measure]
      if (figure?.word !== word || figure.before === null || figure.after === null) return []
      const by = Math.abs(figure.difference ?? figure.after - figure.before)
      return [{ page, by, before: figure.before, after: figure.after }]
    })
    .sort((a, b) => b.by - a.by)
}

/** What visitors notice of a change, a sentence each, made of its figures and of nothing else. */
export function gainWords(pages: readonly ProofPage[]): string[] {
  const said = [
    waiting(pages, 'better', 'sooner'),
    waiting(pages, 'worse', 'later'),
    loading(pages, 'better'),
    loading(pages, 'worse'),
    onTheServer(pages),
    heldUp(pages),
    byVisits(pages),
  ].filter((sentence) => sentence !== null)
  return said.length > 0 ? said : ['Nothing that a visitor would notice could be measured.']
}

function waiting(pages: readonly ProofPage[], word: 'better' | 'worse', when: string): string | null {
  const found = noticed(pages, 'largestPaintMs', word)
  if (found.length === 0) return null
  const [most] = found as [Noticed]
  return `${where(found, pages)} the largest part of the page is there ${when}, by ${range(found, milliseconds)}: ${
    found.length > 1 ? `on ${most.page.page.title} ` : ''
  }after ${milliseconds(most.after)}, and it was ${milliseconds(most.before)}.`
}

function loading(pages: readonly ProofPage[], word: 'better' | 'worse'): string | null {
  const sent = noticed(pages, 'transferBytes', word)
  const asked = noticed(pages, 'requests', word)
  const [less, fewer] = word === 'better' ? ['less', 'fewer'] : ['more', 'more']
  if (sent.length > 0) {
    const requests = asked.length > 0 ? `, in ${range(asked, count)} ${fewer} requests` : ''
    return `${where(sent, pages)} a visitor loads ${range(sent, bytes)} ${less}${requests}.`
  }
  return asked.length > 0 ? `${where(asked, pages)} ${range(asked, count)} ${fewer} requests are made.` : null
}

function onTheServer(pages: readonly ProofPage[]): string | null {
  const found = noticed(pages, 'serverMs', 'better')
  if (found.length === 0) return null
  return `${where(found, pages)} the server is done ${range(found, milliseconds)} earlier.`
}

function heldUp(pages: readonly ProofPage[]): string | null {
  const found = noticed(pages, 'blockingMs', 'better')
  if (found.length === 0) return null
  return `${where(found, pages)} presses and keys wait ${range(found, milliseconds)} less while the page loads.`
}

/** Only bytes are summed up over visits: what is not sent once is not sent a thousand times. */
function byVisits(pages: readonly ProofPage[]): string | null {
  const found = [...noticed(pages, 'transferBytes', 'better'), ...noticed(pages, 'transferBytes', 'worse')].filter(
    ({ page }) => (page.page.views ?? 0) > 0,
  )
  const views = found.reduce((sum, { page }) => sum + page.page.views!, 0)
  const spared = found.reduce((sum, { page, before, after }) => sum + (before - after) * page.page.views!, 0)
  if (spared <= 0) return null
  const whose = found.length === 1 ? '' : ` of these ${found.length} pages`
  return `At ${plural(views, 'view')}${whose} in thirty days, as the site counts them, that is ${bytes(spared)} that need not be sent.`
}

const where = (found: readonly Noticed[], pages: readonly ProofPage[]): string => {
  if (found.length === 1) return `On ${found[0]!.page.page.title}`
  if (found.length < pages.length) return `On ${found.length} of ${count(pages.length)} pages`
  return found.length === 2 ? 'On both pages' : `On all ${count(pages.length)} pages`
}

const range = (found: readonly Noticed[], words: (value: number) => string): string => {
  const most = words(found[0]!.by)
  const least = words(found.at(-1)!.by)
  return most === least ? most : `${least} to ${most}`
}
