import type { Page } from 'playwright-core'
import type { LargestPaint } from '@unvelt/core'

/** What only the page itself can tell, read once it is quiet. */
export interface PageFigures {
  title: string
  ttfb: number | null
  domContentLoaded: number | null
  load: number | null
  firstContentfulPaint: number | null
  largestContentfulPaint: number | null
  cumulativeLayoutShift: number
  domElements: number
  totalBlockingTime: number
  longestTask: number | null
  answers: number | null
  fonts: { family: string; weight: string; style: string; drawn: boolean }[]
  renderBlocking: string[]
  /** What the largest paint showed, where it was a picture. */
  largestPaint: LargestPaint | null
}

export async function readPageFigures(page: Page): Promise<PageFigures> {
  return plain(await page.evaluate(askFigures))
}

/** Runs in the page, which may have put something else in the place of whatever is asked here. */
function askFigures() {
  // What was kept before anybody asked is there as soon as somebody does (Performance Timeline, "observe" and "takeRecords").
  const buffered = (type: string): PerformanceEntry[] => {
    if (!PerformanceObserver.supportedEntryTypes.includes(type)) return []
    const observer = new PerformanceObserver(() => {})
    observer.observe({ type, buffered: true })
    const entries = observer.takeRecords()
    observer.disconnect()
    return entries
  }
  const paints = buffered('largest-contentful-paint')
  const largest = paints.at(-1) as (PerformanceEntry & { url?: string; element?: HTMLImageElement | null }) | undefined
  const shifts = buffered('layout-shift')
  const tasks = buffered('longtask')
  const navigation = performance.getEntriesByType('navigation')[0] as PerformanceNavigationTiming | undefined
  const contentAt = performance.getEntriesByName('first-contentful-paint')[0]?.startTime
  const behindPaint = contentAt === undefined ? [] : tasks.filter((task) => task.startTime + task.duration > contentAt)
  const positive = (value: number | undefined) => (value !== undefined && value > 0 ? value : null)
  return {
    title: String(document.title).slice(0, 500),
    ttfb: positive(navigation?.responseStart),
    domContentLoaded: positive(navigation?.domContentLoadedEventEnd),
    load: positive(navigation?.loadEventEnd),
    firstContentfulPaint: positive(performance.getEntriesByName('first-contentful-paint')[0]?.startTime),
    largestContentfulPaint: positive(paints.at(-1)?.startTime),
    largestPaint: largest?.url
      ? {
          url: largest.url,
          lazy: largest.element?.loading === 'lazy',
          isFirst: largest.element?.fetchPriority === 'high',
        }
      : null,
    cumulativeLayoutShift: (shifts as (PerformanceEntry & { value: number; hadRecentInput: boolean })[])
      .filter((shift) => !shift.hadRecentInput)
      .reduce((sum, shift) => sum + shift.value, 0),
    totalBlockingTime: behindPaint.reduce((sum, task) => sum + Math.max(0, task.duration - 50), 0),
    longestTask: tasks.length > 0 ? Math.max(...tasks.map((task) => task.duration)) : null,
    answers:
      contentAt === undefined
        ? null
        : Math.max(contentAt, ...behindPaint.map((task) => task.startTime + task.duration)),
    fonts: [...document.fonts].slice(0, 500).map(({ family, weight, style, status }) => ({
      family: family.replace(/^["']|["']$/g, '').slice(0, 200),
      weight: weight.slice(0, 40),
      style: style.slice(0, 40),
      drawn: status === 'loaded',
    })),
    domElements: document.getElementsByTagName('*').length,
    renderBlocking: (
      performance.getEntriesByType('resource') as (PerformanceResourceTiming & { renderBlockingStatus?: string })[]
    )
      .filter((entry) => entry.renderBlockingStatus === 'blocking')
      .map((entry) => entry.name),
  }
}

const LONGEST_MS = 1e7
const MOST_ELEMENTS = 1e8
const LONGEST_ADDRESS = 2_000

/** What a page told, as far as it makes sense: it may tell anything. */
function plain(told: PageFigures): PageFigures {
  const time = (value: unknown) => (typeof value === 'number' && value >= 0 && value < LONGEST_MS ? value : null)
  const count = (value: unknown) => Math.floor(Math.min(time(value) ?? 0, MOST_ELEMENTS))
  const text = (value: unknown) => (typeof value === 'string' ? value : '')
  const list = <T>(value: unknown): T[] => (Array.isArray(value) ? (value as T[]) : [])
  return {
    title: text(told.title),
    ttfb: time(told.ttfb),
    domContentLoaded: time(told.domContentLoaded),
    load: time(told.load),
    firstContentfulPaint: time(told.firstContentfulPaint),
    largestContentfulPaint: time(told.largestContentfulPaint),
    cumulativeLayoutShift: time(told.cumulativeLayoutShift) ?? 0,
    domElements: count(told.domElements),
    totalBlockingTime: time(told.totalBlockingTime) ?? 0,
    longestTask: time(told.longestTask),
    answers: time(told.answers),
    fonts: list<PageFigures['fonts'][number]>(told.fonts).map(({ family, weight, style, drawn }) => ({
      family: text(family),
      weight: text(weight),
      style: text(style),
      drawn: drawn === true,
    })),
    renderBlocking: list(told.renderBlocking).map(text),
    largestPaint:
      typeof told.largestPaint?.url === 'string' && /^https?:/.test(told.largestPaint.url)
        ? {
            url: told.largestPaint.url.slice(0, LONGEST_ADDRESS),
            lazy: told.largestPaint.lazy === true,
            isFirst: told.largestPaint.isFirst === true,
          }
        : null,
  }
}
