import { createHash } from 'node:crypto'
import type { Rule } from '@unvelt/core'
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

interface Copy {
  address: string
  path: string
  addon: string
  body: Buffer
}

/** Copies of outsiders' files on the own host, fetched when a rule with the effect `local` is put. */
export class LocalCopies {
  private byPath = new Map<string, Copy>()
  /** Outside address → path of its copy. */
  byAddress: Record<string, string> = {}

  constructor(private readonly database: Database) {}

  async setUp(): Promise<void> {
    await this.database.query(
      'create table if not exists loam_local_copies (address text primary key, path text not null, addon text not null, body bytea not null)',
    )
    this.take(await this.database.query<Copy>('select * from loam_local_copies'))
  }

  get(path: string): Buffer | undefined {
    return this.byPath.get(path)?.body
  }

  /** Path of a copy → whose it is. */
  register(): Record<string, string> {
    return Object.fromEntries([...this.byPath.values()].map(({ path, addon }) => [path, addon]))
  }

  /**
   * Fetches what the rules want to have on the own host and is not there yet.
   * @throws Refusal 422 when an address can't be copied; then nothing is kept.
   */
  async fetchFor(rules: readonly Rule[], addressesOf: (slug: string) => string[]): Promise<void> {
    const wanted = rules.flatMap((rule, index) =>
      rule.effect === 'local'
        ? (rule.file ? [rule.file] : addressesOf(rule.addon)).map((address) => ({ address, addon: rule.addon, index }))
        : [],
    )
    const fetched: Copy[] = []
    for (const { address, addon, index } of wanted) {
      if (address in this.byAddress) continue
      try {
        fetched.push(...(await this.copy(address, addon)))
      } catch (error) {
        throw new Refusal(422, `${address} can’t be copied: ${(error as Error).message}`, {
          problems: [{ at: `/rules/${index}`, expected: 'an outside script, style or font that can be fetched' }],
        })
      }
    }
    for (const { address, path, addon, body } of fetched)
      await this.database.query(
        'insert into loam_local_copies values ($1, $2, $3, $4) on conflict (address) do update set body = excluded.body, path = excluded.path',
        [address, path, addon, body],
      )
    this.take(fetched)
  }

  /** One file, and with a style also the fonts and pictures that it names. */
  private async copy(address: string, addon: string): Promise<Copy[]> {
    const { body, type } = await outsideFetch(address)
    const [, extension] = EXTENSIONS.find(([pattern]) => pattern.test(type)) ?? []
    if (!extension) throw new Error(`it is ${type || 'of no known type'}`)
    if (extension !== 'css') return [this.named(address, addon, extension, body)]
    const copies: Copy[] = []
    let text = body.toString('utf8')
    const names = [...new Set([...text.matchAll(/url\(["']?([^"')]+)["']?\)/g)].map((m) => m[1]!))].slice(0, MOST_FILES)
    for (const name of names.filter((n) => !n.startsWith('data:'))) {
      const [part] = await this.copy(new URL(name, address).href, addon)
      copies.push(part!)
      text = text.replaceAll(name, part!.path)
    }
    return [this.named(address, addon, 'css', Buffer.from(text)), ...copies]
  }

  private named(address: string, addon: string, extension: string, body: Buffer): Copy {
    const digest = createHash('sha256').update(address).update(body).digest('hex').slice(0, 16)
    return { address, path: `${FOLDER}${digest}.${extension}`, addon, body }
  }

  private take(copies: readonly Copy[]): void {
    for (const copy of copies) {
      this.byPath.set(copy.path, copy)
      this.byAddress[copy.address] = copy.path
    }
  }
}

/** The addresses outside that an add-on's own tags name. */
export function outsideAddresses(addOn: AddOn, html: string, isOutside: (url: URL) => boolean): string[] {
  const hosts = addOn.outsideHosts ?? []
  const named = [...html.matchAll(/(?:src|href)="(https?:\/\/[^"]+)"/g)].map((m) => m[1]!.replaceAll('&amp;', '&'))
  return [...new Set(named)].filter((address) => {
    const url = new URL(address)
    return isOutside(url) && hosts.some((h) => url.hostname === h || url.hostname.endsWith(`.${h}`))
  })
}
