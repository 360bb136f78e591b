import { createHash } from 'node:crypto'
import type { LocalCopy, Rule } from '@unvelt/core'
import { outsideFetch } from '../outsiders/outside-fetch.js'
import type { AddOn } from './add-on.js'
import type { Database } from './database.js'
import { Refusal } from './refusal.js'

const FOLDER = '/local/'
const EXTENSIONS: [RegExp, string][] = [
  [/javascript/, 'js'],
  [/^text\/css/, 'css'],
  [/^font\/woff2/, 'woff2'],
]
const MOST_FILES = 40
const DAY_MS = 86_400_000
/** After a copy could not be fetched anew. */
const AGAIN_MS = 3_600_000

interface Copy {
  /** Of its file outside. */
  address: string
  /** A path is one content's, so that pages made before a copy came anew find the one that they name. */
  path: string
  addon: string
  body: Buffer
  /** It was asked for by itself, and not as a part of a style. */
  whole: boolean
  fetched: Date
  checked: Date
  /** Days after which it is fetched anew; null for never. */
  days: number | null
  /** Why it could not be fetched anew the last time. */
  trouble: string | null
}

/** What is told of a copy. */
export interface CopyFacts {
  address: string
  path: string
  addon: string
  bytes: number
  integrity: string
  fetched: string
  checked: string
  refreshDays: number | null
  trouble: string | null
}

/** Copies of outsiders' files on the own host, fetched when a rule with the effect `local` is put, and anew as it says. */
export class LocalCopies {
  private readonly byPath = new Map<string, Copy>()
  private readonly newest = new Map<string, Copy>()
  /** Outside address → its newest copy. */
  readonly byAddress: Record<string, LocalCopy> = {}
  private refreshing: Promise<void> | null = null

  constructor(
    private readonly database: Database,
    private readonly fetchFile = outsideFetch,
  ) {}

  async setUp(): Promise<void> {
    await this.database.query(
      `create table if not exists loam_local_copies (address text, path text, addon text not null, body bytea not null);
       alter table loam_local_copies add column if not exists whole boolean not null default true;
       alter table loam_local_copies add column if not exists fetched timestamptz not null default now();
       alter table loam_local_copies add column if not exists checked timestamptz not null default now();
       alter table loam_local_copies add column if not exists days integer;
       alter table loam_local_copies add column if not exists trouble text;
       alter table loam_local_copies drop constraint if exists loam_local_copies_pkey;
       alter table loam_local_copies add primary key (path)`,
    )
    this.take(await this.database.query<Copy>('select * from loam_local_copies order by fetched, path'))
  }

  get(path: string): Buffer | undefined {
    return this.byPath.get(path)?.body
  }

  /** Path of a copy → whose it is. */
  register(): Record<string, string> {
    return Object.fromEntries([...this.byPath.values()].map(({ path, addon }) => [path, addon]))
  }

  list(): CopyFacts[] {
    return [...this.newest.values()]
      .filter(({ whole }) => whole)
      .map(({ address, path, addon, body, fetched, checked, days, trouble }) => ({
        address,
        path,
        addon,
        bytes: body.length,
        integrity: this.byAddress[address]!.integrity!,
        fetched: fetched.toISOString(),
        checked: checked.toISOString(),
        refreshDays: days,
        trouble,
      }))
  }

  /**
   * Fetches what the rules want to have on the own host and is not there yet.
   * @param areLive They are about to hold for visitors, so they also say which copies are fetched anew, and how often.
   * @throws Refusal 422 when an address can't be copied; then nothing is kept.
   */
  async fetchFor(rules: readonly Rule[], addressesOf: (slug: string) => string[], areLive: boolean): Promise<void> {
    const wanted = rules.flatMap((rule, index) =>
      rule.effect === 'local'
        ? (rule.file ? [rule.file] : addressesOf(rule.addon)).map((address) => ({ address, rule, index }))
        : [],
    )
    const fetched: Copy[] = []
    for (const { address, rule, index } of wanted) {
      if (this.newest.has(address)) continue
      try {
        fetched.push(...(await this.copy(address, rule.addon)))
      } catch (error) {
        throw new Refusal(422, `${address} can’t be copied: ${(error as Error).message}`, {
          problems: [{ at: `/rules/${index}`, expected: 'an outside script, style or font that can be fetched' }],
        })
      }
    }
    await this.store(fetched)
    if (!areLive) return
    const days = new Map<string, number>()
    for (const { address, rule } of wanted) {
      const every = rule.copy?.refreshDays
      if (every !== undefined) days.set(address, Math.min(every, days.get(address) ?? every))
    }
    for (const copy of this.newest.values()) {
      const every = days.get(copy.address) ?? null
      if (copy.days === every) continue
      copy.days = every
      await this.database.query('update loam_local_copies set days = $2 where path = $1', [copy.path, every])
    }
  }

  /** Fetches anew what is old enough by its rules. A copy that can't be had anew stays as it is. */
  refreshDue(now = Date.now()): Promise<void> {
    this.refreshing ??= this.refreshAll(now).finally(() => (this.refreshing = null))
    return this.refreshing
  }

  private async refreshAll(now: number): Promise<void> {
    for (const copy of [...this.newest.values()]) {
      const wait = copy.trouble === null ? (copy.days ?? Infinity) * DAY_MS : AGAIN_MS
      if (!copy.whole || copy.days === null || now - copy.checked.getTime() < wait) continue
      let trouble: string | null = null
      try {
        const fresh = await this.copy(copy.address, copy.addon)
        await this.store(fresh.filter(({ path }) => !this.byPath.has(path)).map((one) => ({ ...one, days: one.whole ? copy.days : null }))) // prettier-ignore
      } catch (error) {
        trouble = (error as Error).message
      }
      const kept = this.newest.get(copy.address)!
      Object.assign(kept, { checked: new Date(now), trouble })
      await this.database.query('update loam_local_copies set checked = $2, trouble = $3 where path = $1', [
        kept.path,
        kept.checked,
        trouble,
      ])
    }
  }

  /** One file, and with a style also the fonts and pictures that it names. */
  private async copy(address: string, addon: string, whole = true): Promise<Copy[]> {
    const { body, type } = await this.fetchFile(address)
    const [, extension] = EXTENSIONS.find(([pattern]) => pattern.test(type)) ?? []
    if (!extension) throw new Error(`it is ${type || 'of no known type'}`)
    const named = (bytes: Buffer): Copy => {
      const digest = createHash('sha256').update(address).update(bytes).digest('hex').slice(0, 16)
      const at = new Date()
      const path = `${FOLDER}${digest}.${extension}`
      return { address, path, addon, body: bytes, whole, fetched: at, checked: at, days: null, trouble: null }
    }
    if (extension !== 'css') return [named(body)]
    const copies: Copy[] = []
    let text = body.toString('utf8')
    const names = [...new Set([...text.matchAll(/url\(["']?([^"')]+)["']?\)/g)].map((m) => m[1]!))].slice(0, MOST_FILES)
    for (const name of names.filter((n) => !n.startsWith('data:'))) {
      const [part] = await this.copy(new URL(name, address).href, addon, false)
      copies.push(part!)
      text = text.replaceAll(name, part!.path)
    }
    return [named(Buffer.from(text)), ...copies]
  }

  private async store(copies: readonly Copy[]): Promise<void> {
    for (const { address, path, addon, body, whole, fetched, checked, days } of copies)
      await this.database.query(
        `insert into loam_local_copies (address, path, addon, body, whole, fetched, checked, days)
         values ($1, $2, $3, $4, $5, $6, $7, $8) on conflict (path) do nothing`,
        [address, path, addon, body, whole, fetched, checked, days],
      )
    this.take(copies)
  }

  private take(copies: readonly Copy[]): void {
    for (const copy of copies) {
      this.byPath.set(copy.path, copy)
      this.newest.set(copy.address, copy)
      this.byAddress[copy.address] = { to: copy.path, integrity: integrityOf(copy.body) }
    }
  }
}

/** As Subresource Integrity has it, section 3.1. */
const integrityOf = (body: Buffer) => `sha384-${createHash('sha384').update(body).digest('base64')}`

/** The addresses outside that an add-on's own tags name. */
export function outsideAddresses(addOn: AddOn, html: string, isOutside: (url: URL) => boolean): string[] {
  const hosts = addOn.outsideHosts ?? []
  const named = [...html.matchAll(/(?:src|href)="(https?:\/\/[^"]+)"/g)].map((m) => m[1]!.replaceAll('&amp;', '&'))
  return [...new Set(named)].filter((address) => {
    const url = new URL(address)
    return isOutside(url) && hosts.some((h) => url.hostname === h || url.hostname.endsWith(`.${h}`))
  })
}
