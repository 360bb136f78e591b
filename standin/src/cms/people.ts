import { createHmac, randomBytes, scryptSync, timingSafeEqual } from 'node:crypto'
import type { Database } from './database.js'

export interface Person {
  name: string
  role: 'editor' | 'member'
}

/** Somebody who isn't there, to try in whose role something works. Nobody for a role that there isn't. */
export const personInRole = (role: string): Person | null =>
  role === 'editor' || role === 'member' ? { name: 'trial', role } : null

const COOKIE = 'loam'
const SIGNED_IN_SECONDS = 8 * 3600
/** The demo's people; `docs/standin.md` tells their words. */
const FIRST_PEOPLE: (Person & { word: string })[] = [
  { name: 'editor', role: 'editor', word: 'gatehouse' },
  { name: 'member', role: 'member', word: 'hazel-walk' },
]

/** Who may sign in, and the signed cookie that says who has. */
export class People {
  private readonly known = new Map<string, Person>()

  constructor(
    private readonly database: Database,
    private readonly secret: string,
  ) {}

  async setUp(): Promise<void> {
    await this.database.query(
      'create table if not exists loam_people (name text primary key, role text not null, salt text not null, hash text not null)',
    )
    for (const { name, role, word } of FIRST_PEOPLE) {
      const salt = randomBytes(12).toString('hex')
      await this.database.query('insert into loam_people values ($1, $2, $3, $4) on conflict do nothing', [
        name,
        role,
        salt,
        hashOf(word, salt),
      ])
    }
    for (const person of await this.database.query<Person & { salt: string }>('select name, role from loam_people'))
      this.known.set(person.name, person)
  }

  /** The cookie of somebody who knows their word; null for everybody else. */
  async signIn(name: string, word: string, nowSeconds: number): Promise<string | null> {
    const [row] = await this.database.query<{ salt: string; hash: string }>(
      'select salt, hash from loam_people where name = $1',
      [name],
    )
    if (!row || !same(hashOf(word, row.salt), row.hash)) return null
    const expires = Math.floor(nowSeconds) + SIGNED_IN_SECONDS
    return `${COOKIE}=${name}.${expires}.${this.sign(name, expires)}; Path=/; HttpOnly; SameSite=Lax; Max-Age=${SIGNED_IN_SECONDS}`
  }

  /** Whose cookie it is; null when there is none, or it is forged or over. */
  whose(cookies: ReadonlyMap<string, string>, nowSeconds: number): Person | null {
    const [name = '', expires = '', signature = ''] = (cookies.get(COOKIE) ?? '').split('.')
    if (!(Number(expires) > nowSeconds) || !same(signature, this.sign(name, Number(expires)))) return null
    return this.known.get(name) ?? null
  }

  private sign(name: string, expires: number): string {
    return createHmac('sha256', this.secret).update(`loam-person\n${name}\n${expires}`).digest('hex')
  }
}

export const SIGN_OUT_COOKIE = `${COOKIE}=; Path=/; Max-Age=0`

export function readCookies(header: string | undefined): Map<string, string> {
  return new Map(
    (header ?? '')
      .slice(0, 8_000)
      .split(/;\s*/)
      .map((part) => [part.split('=', 1)[0]!, part.slice(part.indexOf('=') + 1)] as const),
  )
}

const hashOf = (word: string, salt: string) => scryptSync(word, salt, 24).toString('hex')

function same(a: string, b: string): boolean {
  const [x, y] = [Buffer.from(a), Buffer.from(b)]
  return x.length === y.length && timingSafeEqual(x, y)
}
