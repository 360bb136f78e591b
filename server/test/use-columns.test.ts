import fc from 'fast-check'
import { USE_WORDS } from '@unvelt/core'
import type { AddOnRow } from '../src/add-on/add-on.model.js'
import { FactsBySlug } from '../src/use/facts-by-slug.js'
import { UseColumns } from '../src/use/use-columns.js'
import { UseWords } from '../src/use/use-words.js'
import type { StoredUse } from '../src/use/use-store.js'

const SLUGS = ['a', 'b', 'c']
const PAGES = 12
const pageId = fc.nat(PAGES - 1)
const some = fc.uniqueArray(pageId)

it('gives for many pages at once the words that are found page by page', () => {
  const addOns = fc.tuple(
    ...SLUGS.map((slug) =>
      fc.record({
        slug: fc.constant(slug),
        kind: fc.constantFrom('plugin', 'font', 'outside script'),
        works: fc.constantFrom(null, 'unseen', 'once'),
        blocks: fc.constantFrom([], ['block']),
      }),
    ),
  )
  const facts = fc.array(
    fc.record({
      slug: fc.constantFrom(...SLUGS),
      pageId: fc.option(pageId, { freq: 6 }),
      source: fc.constantFrom('connector', 'reading', 'hand'),
      word: fc.constantFrom('used', 'works unseen', 'planned', 'not seen'),
      because: fc.constant(''),
    }),
  )
  const touched = fc.array(fc.record({ slug: fc.constantFrom(...SLUGS), pageId, touches: fc.nat(3) }))
  fc.assert(
    fc.property(addOns, facts, touched, some, some, some, (all, told, touches, read, steps, shown) => {
      const looked = { read: new Set(read), steps: new Set(steps) }
      const words = new UseWords(
        all as unknown as AddOnRow[],
        new FactsBySlug(told as unknown as StoredUse[]),
        looked,
        touches,
      )
      const columns = new UseColumns(words, shown)
      for (const slug of [...SLUGS, 'nobody']) {
        expect(Array.from(columns.of(slug), (code) => USE_WORDS[code])).toEqual(
          shown.map((id) => words.wordOf(slug, id)),
        )
        expect(columns.usedOn(slug)).toEqual(
          shown.flatMap((id, at) => (['used', 'planned'].includes(words.wordOf(slug, id)) ? [at] : [])),
        )
      }
    }),
  )
})
