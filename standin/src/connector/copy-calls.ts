import type { Fernhollow } from '../cms/fernhollow.js'
import { hashOf } from '../cms/made-copies.js'
import { Refusal } from '../cms/refusal.js'
import { recordOf, type Calls } from './call.js'

const HASH = /^sha384-[A-Za-z0-9+/]{64}$/

/** Copies of files on the own host: those that were fetched for rules, and those that were made and given. */
export const copyCalls = (site: Fernhollow): Calls => {
  const file = (path: string) => site.files.get(path)
  return {
    'GET /copies': () => ({ json: { copies: [...site.copies.list(), ...site.made.list(file)] } }),
    'POST /copies': async ({ body }) => {
      const { address, addon, content, from, body: text } = recordOf(body)
      if (typeof address !== 'string' || !URL.canParse(address))
        throw wrong('/address', 'the address of a style of this site')
      if (!site.installed.addOns.some(({ manifest }) => manifest.slug === addon))
        throw wrong('/addon', 'an add-on of this site')
      if (typeof from !== 'string' || !HASH.test(from)) throw wrong('/from', 'a hash, sha384-… in Base64')
      if (typeof text !== 'string' || text === '') throw wrong('/body', 'the text of a style')
      if (!/\.css$/.test(new URL(address).pathname) || !file(new URL(address).pathname))
        throw wrong('/address', 'the address of a style of this site')
      const bytes = Buffer.from(text)
      if (content !== hashOf(bytes)) throw wrong('/content', 'the hash of the body')
      return { json: { path: await site.made.keep({ content, from, address, addon: addon as string, body: bytes }) } }
    },
  }
}

const wrong = (at: string, expected: string) =>
  new Refusal(422, `This copy can’t be taken: expected ${expected}.`, { problems: [{ at, expected }] })
