import { createHash } from 'node:crypto'
import type {
  AddOnStateAnswer,
  AssetsAnswer,
  CopyGivenAnswer,
  DraftsKeptAnswer,
  ShelfAnswer,
  ScratchAnswer,
  SnapshotAnswer,
  SnapshotInsideAnswer,
  SnapshotsAnswer,
  VersionAnswer,
} from '@unvelt/contract'
import { inventoryOf, publicPages, rulesOf, type Check } from './reading-checks.js'
import { expect, type Said, type SiteUnderCheck } from './site-under-check.js'

/** A style that can be served cleaned is looked for on so many. */
const MOST_PAGES = 5

/** Checks that change something and put it back; for a site that nobody visits. */
export const WRITING_CHECKS: Check[] = [
  {
    call: 'POST /snapshots',
    says: 'makes a snapshot and puts it back',
    async run(site) {
      const made = site.fitting<SnapshotAnswer>(
        await site.call('POST', '/snapshots', { name: 'connector check' }),
        'snapshot',
        201,
      )
      const { snapshots } = site.fitting<SnapshotsAnswer>(await site.call('GET', '/snapshots'), 'snapshots')
      expect(
        snapshots.some(({ id }) => id === made.id),
        'the snapshot that was made is not listed',
      )
      const { parts } = site.fitting<SnapshotInsideAnswer>(
        await site.call('GET', `/snapshots/${made.id}`),
        'snapshot-inside',
      )
      expect(
        parts.every(({ sound }) => sound),
        'a part of the snapshot that was just made is not what was written',
      )
      expect(
        parts.filter(({ of }) => of !== '').every(({ now }) => now != null),
        'the snapshot has tables of add-ons that the site does not have',
      )
      const [part] = parts.filter(({ of }) => of !== '')
      if (part) {
        const one = await site.call('POST', `/snapshots/${made.id}/restore`, { addOn: part.of })
        expect(
          site.fitting<{ restored: number }>(one, 'restored').restored === made.id,
          'an add-on’s part of another snapshot was put back',
        )
        const after = site.fitting<SnapshotInsideAnswer>(
          await site.call('GET', `/snapshots/${made.id}`),
          'snapshot-inside',
        )
        expect(
          after.parts.some(({ name, now }) => name === part.name && now?.same === true),
          'the part that was put back is not what it was',
        )
      }
      site.refused(await site.call('GET', '/snapshots/999999999'), 404)
      const restored = await site.call('POST', `/snapshots/${made.id}/restore`)
      expect(
        site.fitting<{ restored: number }>(restored, 'restored').restored === made.id,
        'another snapshot was put back',
      )
      site.refused(await site.call('POST', '/snapshots/999999999/restore'), 404)
    },
  },
  {
    says: 'lets one of two puts at once win, obeys it on the next page, and can make the page as it was',
    async run(site) {
      const { etag, file } = await rulesOf(site)
      const path = (await publicPages(site))[0]!
      const target = await skippable(site, path)
      const rule = { addon: target.slug, effect: 'skip', place: { level: 'page', path } }
      const puts = await Promise.all(
        ['check-1', 'check-2'].map((id) =>
          site.call('PUT', '/rules', { ...file, rules: [...file.rules, { id, ...rule }] }, { 'if-match': etag }),
        ),
      )
      try {
        const statuses = puts.map((put) => put.status).sort()
        expect(statuses.join() === '200,412', `two puts at once gave ${statuses.join(' and ')}, expected 200 and 412`)
        const { version } = site.fitting<VersionAnswer>(
          puts.find((put) => put.status === 200)!,
          'rules-version',
        )
        const names = (said: Said) => said.text.includes(target.file)
        const now = await site.page(path, 'rules=live, cache=bypass')
        expect(now.headers.get('unvelt-rules') === String(version), 'the next page was not made under the new rules')
        expect(!names(now), `${path} still names ${target.file}, though ${target.slug} is to be skipped there`)
        const before = await site.page(path, `rules=${etag.replaceAll('"', '')}, cache=bypass`)
        expect(names(before), 'the page under the version before lacks what it had')
        const paths = { paths: [path] }
        site.fitting(await site.call('POST', '/purge', paths), 'purged')
        if (site.offers('POST /warm')) site.fitting(await site.call('POST', '/warm', paths), 'warmed')
        const served = await site.page(path, 'cache=serve')
        expect(!names(served), 'a visitor still gets the old page after the purge')
      } finally {
        await putBack(site, file)
        await site.call('POST', '/purge', {})
      }
    },
  },
  {
    call: 'POST /drafts',
    says: 'makes a page under draft rules for who names them, and for nobody else',
    async run(site) {
      const { etag, file } = await rulesOf(site)
      const path = (await publicPages(site))[0]!
      const target = await skippable(site, path)
      const rule = { id: 'check', addon: target.slug, effect: 'skip', place: { level: 'page', path } }
      const drafts = { ...file, rules: [...file.rules, rule] }
      const { id } = site.fitting<DraftsKeptAnswer>(await site.call('POST', '/drafts', drafts), 'drafts-kept', 201)
      const names = (said: Said) => said.text.includes(target.file)
      const tried = await site.page(path, `rules=draft-${id}, cache=bypass`)
      expect(tried.headers.get('unvelt-rules') === `draft-${id}`, 'the answer does not name the drafts')
      expect(!names(tried), `${path} still names ${target.file}, though the drafts skip ${target.slug} there`)
      expect(names(await site.page(path, 'rules=live, cache=bypass')), 'the drafts hold under the live rules, too')
      expect(names(await site.fetch('GET', path)), 'a visitor gets a page that was made under drafts')
      expect((await rulesOf(site)).etag === etag, 'the version of the live rules has changed')
      site.fitting(await site.call('POST', '/drafts/remove', { id }), 'drafts-removed')
      const over = await site.page(path, `rules=draft-${id}, cache=bypass`)
      expect(over.status === 409, `removed drafts gave ${over.status}, expected 409`)
      site.refused(await site.call('POST', '/drafts/remove', { id }), 404)
      site.refused(await site.call('POST', '/drafts', { ...file, rules: [{ ...rule, addon: 'no-such-add-on' }] }), 422)
    },
  },
  {
    call: 'GET /shelf',
    says: 'tries what is not installed for who names the drafts, and leaves no trace',
    async run(site) {
      const { addOns } = site.fitting<ShelfAnswer>(await site.call('GET', '/shelf'), 'shelf')
      const wanted = addOns[0]
      if (!wanted || site.description?.measuring?.addOns !== true) return
      const { file } = await rulesOf(site)
      const path = (await publicPages(site))[0]!
      const traces = async () =>
        (await Promise.all(['/inventory', '/assets'].map((call) => site.call('GET', call)))).map(({ text }) => text)
      const before = await traces()
      const drafts = (version: string) => ({ ...file, addOns: { [wanted.slug]: version } })
      const kept = await site.call('POST', '/drafts', drafts(wanted.version))
      const { id } = site.fitting<DraftsKeptAnswer>(kept, 'drafts-kept', 201)
      const tried = await site.page(path, `rules=draft-${id}, cache=bypass`)
      expect(tried.status === 200, `${path} with ${wanted.slug} ${wanted.version} answers ${tried.status}`)
      site.fitting(await site.call('POST', '/drafts/remove', { id }), 'drafts-removed')
      expect((await traces()).join() === before.join(), `${wanted.slug} has left a trace`)
      site.refused(await site.call('POST', '/drafts', drafts('no such version')), 422)
    },
  },
  {
    call: 'PUT /add-ons/*/features',
    says: 'switches a feature off and on again, and refuses one that is not there',
    async run(site) {
      const { addOns } = await inventoryOf(site)
      const addOn = addOns.find(({ features }) => (features ?? []).length > 0)
      if (!addOn) return
      const { slug, on } = addOn.features![0]!
      const call = (features: object) => site.call('PUT', `/add-ons/${addOn.slug}/features`, { features })
      const told = site.fitting<AddOnStateAnswer>(await call({ [slug]: !on }), 'add-on-state')
      expect(told.features.find((f) => f.slug === slug)?.on === !on, 'the answer does not show the new state')
      site.fitting(await call({ [slug]: on }), 'add-on-state')
      site.refused(await call({ 'no-such-feature': true }), 422)
      site.refused(await site.call('PUT', '/add-ons/no-such-add-on/features', { features: {} }), 404)
    },
  },
  {
    call: 'POST /copies',
    says: 'takes a copy that was made of a style, serves it as it is, and puts it in the place of that style alone',
    async run(site) {
      const { file } = await rulesOf(site)
      const { files } = site.fitting<AssetsAnswer>(await site.call('GET', '/assets'), 'assets')
      const html = await Promise.all(
        (await publicPages(site))
          .slice(0, MOST_PAGES)
          .map(async (path) => ({ path, html: (await site.fetch('GET', path)).text })),
      )
      const of = (page: { html: string }) =>
        Object.entries(files).find(([path]) => /^\/[^?]*\.css$/.test(path) && page.html.includes(path))
      const page = html.find(of)
      if (!page) return
      const [style, addon] = of(page)!
      const body = `/* made of ${style} */`
      const copy = {
        address: new URL(style, site.origin).href,
        addon,
        content: hashOf(body),
        from: hashOf(await site.file(style)),
        body,
      }
      const { path } = site.fitting<CopyGivenAnswer>(await site.call('POST', '/copies', copy), 'copy-given')
      expect((await site.file(path)).toString() === body, `${path} is not what was given`)
      const other = site.fitting<CopyGivenAnswer>(
        await site.call('POST', '/copies', {
          ...copy,
          content: hashOf(`${body} `),
          from: hashOf('other'),
          body: `${body} `,
        }),
        'copy-given',
      )
      expect(other.path !== path, 'two copies have one path')
      site.refused(await site.call('POST', '/copies', { ...copy, content: hashOf('another') }), 422)
      const rule = { id: 'check', addon, file: style, effect: 'local', place: { level: 'page', path: page.path } }
      const drafts = ({ content, from }: { content: string; from: string }) => ({
        ...file,
        rules: [...file.rules, { ...rule, copy: { content, from } }],
      })
      const tried = async (one: { content: string; from: string }) => {
        const { id } = site.fitting<DraftsKeptAnswer>(
          await site.call('POST', '/drafts', drafts(one)),
          'drafts-kept',
          201,
        )
        const { text } = await site.page(page.path, `rules=draft-${id}, cache=bypass`)
        await site.call('POST', '/drafts/remove', { id })
        return text
      }
      const served = await tried(copy)
      expect(served.includes(path) && !served.includes(`"${style}"`), `${page.path} does not name the copy of ${style}`)
      const outdated = await tried({ content: hashOf(`${body} `), from: hashOf('other') })
      expect(!outdated.includes(other.path), 'a copy of another version is served in the place of this one')
      site.refused(await site.call('POST', '/drafts', drafts({ ...copy, content: hashOf('never given') })), 422)
    },
  },
  {
    call: 'POST /scratch',
    says: 'makes a scratch page like another, unlisted, and removes it again',
    async run(site) {
      const like = (await publicPages(site))[0]!
      const page = site.fitting<ScratchAnswer>(await site.call('POST', '/scratch', { like }), 'scratch-page', 201)
      expect((await site.fetch('GET', page.path)).status === 200, 'the scratch page is not served')
      expect(!(await publicPages(site)).includes(page.path), 'the scratch page is in the list of pages')
      site.fitting(await site.call('POST', '/scratch/remove', { path: page.path }), 'scratch-removed')
      expect((await site.fetch('GET', page.path)).status === 404, 'the removed scratch page is still served')
      site.refused(await site.call('POST', '/scratch/remove', { path: page.path }), 404)
    },
  },
]

const hashOf = (body: string | Buffer) => `sha384-${createHash('sha384').update(body).digest('base64')}`

/** An add-on that the site can skip, with a file that the page names now. */
async function skippable(site: SiteUnderCheck, path: string): Promise<{ slug: string; file: string }> {
  const { text } = await site.page(path, 'rules=live, cache=bypass')
  const { addOns } = await inventoryOf(site)
  for (const { slug, canSkip, library, files } of addOns) {
    const named = files.find((file) => text.includes(file.path))
    if (canSkip && !library && named) return { slug, file: named.path }
  }
  expect(false, `${path} loads no add-on that the site can skip`)
}

async function putBack(site: SiteUnderCheck, file: object): Promise<void> {
  const { etag } = await rulesOf(site)
  await site.call('PUT', '/rules', file, { 'if-match': etag })
}
