import { isEmptied, minifiers } from '../src/index.js'

const told = (name: string, summary = '', jobs: string[] = [], active = true) => ({ name, summary, jobs, active })

it.each([
  told('Trim', 'Makes scripts smaller.'),
  told('Leaf', '', ['making files smaller']),
  told('Minify all'),
  told('Press', 'Shrinks your CSS and joins it.'),
  told('Press', 'Compresses all the scripts of a page'),
])('knows what makes code smaller: $name, $summary $jobs', (addOn) => {
  expect(minifiers([addOn])).toEqual([addOn])
  expect(minifiers([{ ...addOn, active: false }])).toEqual([])
})

it.each([
  told('Gallery', 'Makes pictures smaller.'),
  told('Larder', 'Keeps pages.', ['page cache', 'compression']),
  told('Glue', 'Puts files into one.', ['gluing files']),
  told('Mini basket', 'A small basket'),
])('leaves others alone: $name, $summary $jobs', (addOn) => expect(minifiers([addOn])).toEqual([]))

it('a file of which nothing is left but comments runs nothing', () => {
  expect(isEmptied({ plain: 900, minified: { plain: 0, gzip: 20, brotli: 1 } })).toBe(true)
  expect(isEmptied({ plain: 900, minified: { plain: 1, gzip: 21, brotli: 5 } })).toBe(false)
  expect(isEmptied({ plain: 900, minified: null })).toBe(false)
  expect(isEmptied({ plain: 0, minified: { plain: 0, gzip: 20, brotli: 1 } })).toBe(false)
})
