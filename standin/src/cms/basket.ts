import { randomUUID } from 'node:crypto'

const COOKIE = 'basket'

/** The basket's id; empty where the visitor has none. */
export function basketOf(cookies: ReadonlyMap<string, string>): string {
  const id = cookies.get(COOKIE) ?? ''
  return /^[0-9a-f-]{36}$/.test(id) ? id : ''
}

export function newBasket(): { id: string; cookie: string } {
  const id = randomUUID()
  return { id, cookie: `${COOKIE}=${id}; Path=/; HttpOnly; SameSite=Lax` }
}
