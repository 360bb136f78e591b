import type { Measure } from '@unvelt/contract'

/** A measure as the interface speaks of it. Bytes are shown in thousands of bytes. */
export interface MeasureWords {
  name: string
  unit: string
  /** Takes a value to what a ledger cell shows, unit left out. */
  short: (value: number) => string
  /** Takes a value to a figure with its unit. */
  long: (value: number) => string
}

const whole = new Intl.NumberFormat('en', { maximumFractionDigits: 0 })
const hundredth = new Intl.NumberFormat('en', { minimumFractionDigits: 2, maximumFractionDigits: 2 })
const tenth = new Intl.NumberFormat('en', { minimumFractionDigits: 1, maximumFractionDigits: 1 })

export const count = (value: number) => whole.format(value)
// Bounds lie where rounding would reach the next sort of figure, so that none reads 100.0 or 1,000 KB.
const kilo = (bytes: number) => (bytes !== 0 && Math.abs(bytes) < 99_950 ? tenth : whole).format(bytes / 1000)

/** A figure with its unit, which no end of a line may part. */
export const withUnit = (figure: string | number, unit: string) => `${figure}\u00a0${unit}`

/** Bytes with a unit: 812 B, 28.6 KB, 1.42 MB, 5.38 GB. */
export function bytes(value: number): string {
  const size = Math.abs(value)
  if (size < 999.5) return withUnit(whole.format(value), 'B')
  if (size < 999_500) return withUnit(kilo(value), 'KB')
  if (size < 999_995_000) return withUnit((value / 1e6).toFixed(2), 'MB')
  return withUnit(hundredth.format(value / 1e9), 'GB')
}

export function milliseconds(value: number): string {
  if (value !== 0 && Math.abs(value) < 0.05) return `under ${withUnit('0.1', 'ms')}`
  if (Math.abs(value) >= 9_999.5) return withUnit(tenth.format(value / 1000), 's')
  return withUnit(shortMs(value), 'ms')
}

export const plural = (n: number, one: string, many = `${one}s`) => `${count(n)} ${n === 1 ? one : many}`

const shortMs = (value: number) => (value !== 0 && Math.abs(value) < 9.95 ? tenth : whole).format(value)

export const MEASURE_WORDS: Record<Measure, MeasureWords> = {
  requests: { name: 'Requests', unit: '', short: count, long: (v) => plural(v, 'request') },
  transferBytes: { name: 'Transfer', unit: 'KB', short: kilo, long: bytes },
  decodedBytes: { name: 'Decoded', unit: 'KB', short: kilo, long: bytes },
  idleBytes: { name: 'Idle', unit: 'KB', short: kilo, long: bytes },
  mainThreadMs: { name: 'Main thread', unit: 'ms', short: shortMs, long: milliseconds },
  serverMs: { name: 'Server time', unit: 'ms', short: shortMs, long: milliseconds },
  queries: { name: 'Queries', unit: '', short: count, long: (v) => plural(v, 'query', 'queries') },
  queryMs: { name: 'Query time', unit: 'ms', short: shortMs, long: milliseconds },
}

/** A change with its sign; a true minus, so that figures line up. What is too small for a figure, or rounds to nothing, has none. */
export function signed(value: number, format: (value: number) => string): string {
  const text = format(Math.abs(value))
  if (!/^\d/.test(text) || !/[1-9]/.test(text)) return text
  return value > 0 ? `+${text}` : value < 0 ? `−${text}` : text
}

export const percent = (share: number) =>
  Number.isFinite(share) ? withUnit((share * 100).toFixed(Math.abs(share) < 0.1 && share !== 0 ? 1 : 0), '%') : '–'

const moment = new Intl.DateTimeFormat('en-GB', {
  day: 'numeric',
  month: 'short',
  year: 'numeric',
  hour: '2-digit',
  minute: '2-digit',
})

const clock = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' })
export const clockTime = (iso: string) => clock.format(new Date(iso))
export const dateTime = (iso: string) => moment.format(new Date(iso))

const SPANS: [seconds: number, unit: string][] = [
  [86_400, 'd'],
  [3_600, 'h'],
  [60, 'min'],
]

/** A span of time that matters by its order only: 30 d, 4 h, 10 min, 20 s; nothing for none. */
export function span(seconds: number): string {
  if (seconds <= 0) return 'not kept'
  const [size, unit] = SPANS.find(([least]) => seconds >= 0.95 * least) ?? [1, 's']
  return withUnit(Math.round(seconds / size), unit)
}

/** A span of time that is known roughly. */
export function roughly(seconds: number): string {
  if (seconds < 90) return 'a minute'
  const minutes = Math.round(seconds / 60)
  return minutes < 90 ? withUnit(minutes, 'min') : withUnit(Math.round(minutes / 60), 'h')
}

export const timeLeft = (seconds: number) => `${roughly(seconds)} left`
