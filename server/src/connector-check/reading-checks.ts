import { createHash } from 'node:crypto'
import { markedElements, parseRuleFile } from '@unvelt/core'
import type {
  ActionsAnswer,
  AssetsAnswer,
  ConnectorDescription,
  InventoryAnswer,
  KeepingsAnswer,
  PagesAnswer,
  CopiesAnswer,
  ShelfAnswer,
  UseEvidenceAnswer,
} from '@unvelt/contract'
import { expect, type SiteUnderCheck } from './site-under-check.js'

export interface Check {
  /** The call it is about, skipped where the site doesn't offer it; none for what every connector must do. */
  call?: string
  says: string
  run(site: SiteUnderCheck): Promise<void>
}

const MOST_FILES_ASKED = 40
const MOST_COPIES = 20

/** Checks that change nothing at the site. */
export const READING_CHECKS: Check[] = [
  {
    says: 'describes itself to anybody',
    async run(site) {
      site.description = site.fitting<ConnectorDescription>(await site.describe(), 'description')
    },
  },
  {
    says: 'refuses every call without its key with 401',
    async run(site) {
      for (const path of ['/inventory', '/pages', '/assets', '/rules'])
        for (const headers of [{ authorization: '' }, { authorization: 'Bearer not-the-key' }])
          site.refused(await site.call('GET', path, undefined, headers), 401)
    },
  },
  {
    says: 'answers an unknown call with 404',
    run: async (site) => void site.refused(await site.call('GET', '/no-such-call'), 404),
  },
  {
    says: 'lists add-ons once each, with needs that are add-ons too',
    async run(site) {
      const { addOns } = await inventoryOf(site)
      const slugs = addOns.map((addOn) => addOn.slug)
      expect(new Set(slugs).size === slugs.length, 'a slug comes twice')
      for (const { slug, needs } of addOns)
        for (const need of needs) expect(slugs.includes(need), `${slug} needs ${need}, which is not listed`)
    },
  },
  {
    says: 'lists pages in parts that come to an end, each page once',
    run: async (site) => void (await pagesOf(site)),
  },
  {
    says: 'has a register of files that are really served, each of a listed add-on',
    async run(site) {
      const { addOns } = await inventoryOf(site)
      const { files } = site.fitting<AssetsAnswer>(await site.call('GET', '/assets'), 'assets')
      const entries = Object.entries(files)
      const step = Math.max(1, Math.ceil(entries.length / MOST_FILES_ASKED))
      for (const [path, slug] of entries.filter((_, n) => n % step === 0)) {
        expect(
          addOns.some((addOn) => addOn.slug === slug),
          `${path} is of ${slug}, which is not listed`,
        )
        const { status } = await site.fetch('GET', path)
        expect(status === 200, `${path} is in the register, and answers ${status}`)
      }
    },
  },
  {
    call: 'GET /use-evidence',
    says: 'tells uses of listed add-ons on listed pages',
    async run(site) {
      const { addOns } = await inventoryOf(site)
      const paths = new Set((await pagesOf(site)).map((page) => page.path))
      const { uses } = site.fitting<UseEvidenceAnswer>(await site.call('GET', '/use-evidence'), 'use-evidence')
      for (const { path, addon, feature } of uses) {
        expect(paths.has(path), `${path} uses ${addon}, and is no listed page`)
        const of = addOns.find(({ slug }) => slug === addon)
        expect(of !== undefined, `${path} uses ${addon}, which is not listed`)
        expect(
          feature === undefined || (of.features ?? []).some(({ slug }) => slug === feature),
          `${path} uses ${addon}’s ${feature}, which is not among its features`,
        )
      }
    },
  },
  {
    says: 'hands out its rules with their version as ETag',
    run: async (site) => void (await rulesOf(site)),
  },
  {
    says: 'refuses rules it can’t take, each with its status, and changes nothing',
    async run(site) {
      const { etag, file } = await rulesOf(site)
      const now = { 'if-match': etag }
      const rule = { id: 'check', addon: 'no-such-add-on', effect: 'skip', place: { level: 'everywhere' } }
      const put = (body: unknown, headers: Record<string, string>) => site.call('PUT', '/rules', body, headers)
      site.refused(await put(file, {}), 428)
      site.refused(await put(file, { 'if-match': '"999999"' }), 412)
      site.refused(await put('{', now), 400)
      site.refused(await put(`"${'x'.repeat(5 << 20)}"`, now), 413)
      const malformed = site.refused(await put({ ...file, rules: [{ ...rule, effect: 'burn' }] }, now), 422)
      expect(malformed.problems?.[0]?.at === '/rules/0/effect', 'the problem must name its place, /rules/0/effect')
      const unknown = site.refused(await put({ ...file, rules: [rule] }, now), 422)
      expect(unknown.problems?.[0]?.at === '/rules/0/addon', 'the problem must name its place, /rules/0/addon')
      expect((await rulesOf(site)).etag === etag, 'a refused put has changed the version')
    },
  },
  {
    says: 'makes a page anew for a measuring request, and tells where the time goes',
    async run(site) {
      const path = (await publicPages(site))[0]!
      const { status, headers } = await site.page(path, 'rules=live, cache=bypass')
      expect(status === 200, `${path} answers ${status}`)
      expect(/^\d+$/.test(headers.get('unvelt-rules') ?? ''), 'Unvelt-Rules is missing')
      const timing = headers.get('server-timing') ?? ''
      const parts = [...timing.matchAll(/(?:^|, )([\w.-]+);dur=([\d.]+)/g)].map(
        ([, name, ms]) => [name!, Number(ms)] as const,
      )
      const total = parts.find(([name]) => name === 'total')?.[1]
      expect(total !== undefined, 'Server-Timing has no total')
      const sum = parts.filter(([name]) => name !== 'total' && !name.endsWith('.db')).reduce((a, [, ms]) => a + ms, 0)
      expect(sum <= total + 0.5, `the self times add up to ${sum.toFixed(1)} ms of ${total} ms`)
      const without = await site.page(path, 'rules=0, cache=bypass')
      expect(without.headers.get('unvelt-rules') === '0', 'version 0 must be the page without rules')
      expect((await site.page(path, 'rules=999999, cache=bypass')).status === 409, 'an unknown version must give 409')
    },
  },
  {
    says: 'marks what its add-ons print for whoever asks for marks, and for nobody else',
    async run(site) {
      if (!site.description.measuring?.marks) return
      const path = (await publicPages(site))[0]!
      const marked = await site.page(path, 'rules=live, cache=bypass, marks=on')
      expect(marked.status === 200, `${path} answers ${marked.status}`)
      const written = [...markedElements(marked.text).keys()]
      expect(written.length > 0, `${path} has no mark in it`)
      const known = new Set((await inventoryOf(site)).addOns.map(({ slug }) => slug))
      const stranger = written.find((slug) => !known.has(slug))
      expect(stranger === undefined, `${stranger} is marked, and is not in the inventory`)
      const plain = await site.page(path, 'rules=live, cache=bypass')
      expect(markedElements(plain.text).size === 0, `${path} has marks in it that nobody asked for`)
    },
  },
  {
    says: 'shows visitors nothing of the measuring, forged requests included',
    async run(site) {
      const path = (await publicPages(site))[0]!
      for (const said of [await site.fetch('GET', path), await site.page(path, 'cache=bypass', 'not-the-key')])
        for (const header of ['unvelt-rules', 'server-timing'])
          expect(!said.headers.has(header), `a visitor is sent ${header}`)
    },
  },
  {
    call: 'GET /snapshots',
    says: 'lists its snapshots',
    run: async (site) => void site.fitting(await site.call('GET', '/snapshots'), 'snapshots'),
  },
  {
    call: 'GET /leftovers',
    says: 'lists leftovers, and refuses to remove what is none',
    async run(site) {
      site.fitting(await site.call('GET', '/leftovers'), 'leftovers')
      site.refused(await site.call('POST', '/leftovers/remove', { ids: ['no-such-leftover'] }), 422)
    },
  },
  {
    call: 'GET /keepings',
    says: 'tells what it keeps for nobody, older being part of all, and refuses what is none',
    async run(site) {
      const { keepings } = site.fitting<KeepingsAnswer>(await site.call('GET', '/keepings'), 'keepings')
      for (const { id, ages } of keepings)
        for (const [n, age] of ages.entries())
          expect(n === 0 || age.rows <= ages[0]!.rows, `of ${id} more is older than there is`)
      if (site.offers('POST /keepings/remove'))
        site.refused(await site.call('POST', '/keepings/remove', { id: 'no-such-sort', olderThanDays: 1 }), 422)
      if (site.offers('POST /tables/compact'))
        site.refused(await site.call('POST', '/tables/compact', { tables: ['no such table'] }), 422)
    },
  },
  {
    call: 'GET /copies',
    says: 'lists the copies of files, each once, and gives each at its path as it says',
    async run(site) {
      const { copies } = site.fitting<CopiesAnswer>(await site.call('GET', '/copies'), 'copies')
      const name = ({ address, path, from }: (typeof copies)[0]) => (from === undefined ? address : path)
      const twice = copies.find((copy, n) => copies.findIndex((one) => name(one) === name(copy)) !== n)
      expect(!twice, `${twice && name(twice)} is there twice`)
      for (const { path, bytes, integrity } of copies.slice(0, MOST_COPIES)) {
        const body = await site.file(path)
        expect(body.length === bytes, `${path} has ${body.length} bytes and not ${bytes}`)
        if (integrity === undefined) continue
        const [algorithm, digest] = integrity.split('-', 2) as [string, string]
        const is = createHash(algorithm).update(body).digest('base64')
        expect(is === digest, `${path} is not what its integrity says`)
      }
    },
  },
  {
    call: 'GET /shelf',
    says: 'lists what could be tried, none of it in the version that is installed',
    async run(site) {
      const { addOns } = site.fitting<ShelfAnswer>(await site.call('GET', '/shelf'), 'shelf')
      const { addOns: here } = site.fitting<InventoryAnswer>(await site.call('GET', '/inventory'), 'inventory')
      const installed = addOns.find(({ slug, version }) =>
        here.some((addOn) => addOn.slug === slug && addOn.version === version),
      )
      expect(!installed, `${installed?.slug} ${installed?.version} is installed`)
    },
  },
  {
    call: 'GET /actions',
    says: 'lists actions that can be tried, none of them twice',
    async run(site) {
      const { actions } = site.fitting<ActionsAnswer>(await site.call('GET', '/actions'), 'actions')
      const names = actions.map(({ name }) => name)
      const twice = names.find((name, n) => names.indexOf(name) !== n)
      expect(twice === undefined, `${twice} is there twice`)
      const form = actions.find(({ method, form }) => method === 'GET' && form !== undefined)
      expect(form === undefined, `${form?.name} is asked for with GET, and has a form`)
    },
  },
  {
    call: 'GET /access-log',
    says: 'hands out its access log in combined log format',
    async run(site) {
      const { status, text } = await site.call('GET', '/access-log')
      expect(status === 200, `the status is ${status}`)
      const bad = text.split('\n').findIndex((line) => line !== '' && !COMBINED.test(line))
      expect(bad < 0, `line ${bad + 1} is no combined log format`)
    },
  },
]

const COMBINED =
  /^\S+ \S+ \S+ \[\d{2}\/\w{3}\/\d{4}:\d{2}:\d{2}:\d{2} [+-]\d{4}\] "[^"]*" \d{3} (?:\d+|-) "[^"]*" "[^"]*"$/

export const inventoryOf = async (site: SiteUnderCheck) =>
  site.fitting<InventoryAnswer>(await site.call('GET', '/inventory'), 'inventory')

export async function pagesOf(site: SiteUnderCheck): Promise<PagesAnswer['pages']> {
  const all: PagesAnswer['pages'] = []
  for (let from: number | null = 0; from !== null;) {
    const part: PagesAnswer = site.fitting<PagesAnswer>(await site.call('GET', `/pages?from=${from}`), 'pages')
    all.push(...part.pages)
    expect(part.next == null || part.next > from, `next is ${part.next} after ${from}, and must grow`)
    from = part.next ?? null
  }
  expect(new Set(all.map((page) => page.path)).size === all.length, 'a page comes twice')
  return all
}

export async function publicPages(site: SiteUnderCheck): Promise<string[]> {
  const open = (await pagesOf(site)).filter((page) => page.area === 'public' && !page.signedIn)
  expect(open.length > 0, 'there is no page that anybody may see')
  return open.map((page) => page.path)
}

export async function rulesOf(site: SiteUnderCheck) {
  const said = await site.call('GET', '/rules')
  const file = site.fitting<{ format: string; rules: unknown[] }>(said, 'rules')
  const parsed = parseRuleFile(file)
  if ('problems' in parsed)
    expect(false, `the rules at ${parsed.problems[0]!.at}: expected ${parsed.problems[0]!.expected}`)
  const etag = said.headers.get('etag') ?? ''
  expect(/^"\d{1,9}"$/.test(etag), `the ETag is ${etag || 'missing'}, expected the version in quotes`)
  return { etag, file }
}
