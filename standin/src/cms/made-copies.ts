import { createHash } from 'node:crypto'
import type { LocalCopy } from '@unvelt/core'
import type { CopyFacts } from './local-copies.js'
import type { Database } from './database.js'

const FOLDER = '/local/'

/** A copy that somebody made of one of the site's files. */
export interface MadeCopy {
  /** Hashes of what is in it, and of the file that it was made from. */
  content: string
  from: string
  /** Of that file. */
  address: string
  addon: string
  body: Buffer
  given: Date
}

/** Copies that were made of the site's own files and given to it, to be served in their place where a rule says so. */
export class MadeCopies {
  private readonly byContent = new Map<string, MadeCopy & { path: string }>()
  private readonly byPath = new Map<string, Buffer>()

  constructor(private readonly database: Database) {}

  async setUp(): Promise<void> {
    await this.database.query(
      `create table if not exists loam_made_copies (
         content text primary key, "from" text not null, address text not null, addon text not null, body bytea not null,
         given timestamptz not null default now())`,
    )
    this.byContent.clear()
    this.byPath.clear()
    for (const copy of await this.database.query<MadeCopy>('select * from loam_made_copies order by given'))
      this.take(copy)
  }

  /** @returns the path on which it is served from now on */
  async keep(copy: Omit<MadeCopy, 'given'>): Promise<string> {
    const { content, from, address, addon, body } = copy
    await this.database.query(
      `insert into loam_made_copies (content, "from", address, addon, body) values ($1, $2, $3, $4, $5)
       on conflict (content) do update set "from" = excluded."from", address = excluded.address, addon = excluded.addon, given = now()`,
      [content, from, address, addon, body],
    )
    return this.take({ ...copy, given: new Date() })
  }

  has(content: string): boolean {
    return this.byContent.has(content)
  }

  get(path: string): Buffer | undefined {
    return this.byPath.get(path)
  }

  /** Path of a copy → whose it is. */
  register(): Record<string, string> {
    return Object.fromEntries([...this.byContent.values()].map(({ path, addon }) => [path, addon]))
  }

  /** Those that stand in for their files as these are now, by the hash of their content. */
  standingIn(file: (path: string) => Buffer | undefined): Record<string, LocalCopy> {
    return Object.fromEntries(
      [...this.byContent.values()]
        .filter((copy) => isOfToday(copy, file))
        .map(({ content, path }) => [content, { to: path, integrity: content }]),
    )
  }

  list(file: (path: string) => Buffer | undefined): (CopyFacts & { from: string })[] {
    return [...this.byContent.values()].map((copy) => ({
      address: copy.address,
      path: copy.path,
      addon: copy.addon,
      bytes: copy.body.length,
      integrity: copy.content,
      fetched: copy.given.toISOString(),
      checked: new Date().toISOString(),
      refreshDays: null,
      trouble: isOfToday(copy, file) ? null : 'The file is another one by now, and is served as it is.',
      from: copy.from,
    }))
  }

  private take(copy: MadeCopy): string {
    const path = `${FOLDER}${createHash('sha256').update(copy.content).digest('hex').slice(0, 16)}.css`
    this.byContent.set(copy.content, { ...copy, path })
    this.byPath.set(path, copy.body)
    return path
  }
}

/** As Subresource Integrity has it, section 3.1. */
export const hashOf = (body: Buffer): string => `sha384-${createHash('sha384').update(body).digest('base64')}`

/** Files stay the same buffer for as long as they are the same. */
const hashes = new WeakMap<Buffer, string>()

function isOfToday({ address, from }: MadeCopy, fileAt: (path: string) => Buffer | undefined): boolean {
  const file = fileAt(new URL(address).pathname)
  if (!file) return false
  const known = hashes.get(file) ?? hashOf(file)
  hashes.set(file, known)
  return known === from
}
