import { seeded } from '@unvelt/core'

const OPENINGS = [
  'The old register calls it the finest of its kind',
  'Nobody planted this one on purpose',
  'After the storm of that winter only the stump was left',
  'The first written note is from the spring of 1891',
  'Visitors ask for it more often than for any other',
  'Our foresters measured it again this autumn',
]
const MIDDLES = [
  'The crown has thinned since the dry summers, yet new shoots break low on the stem.',
  'Its bark peels in plates that the children of three villages have carried home.',
  'In wet years the roots lift the path, and we lay the boards anew.',
  'Owls nest in the hollow; please keep to the marked way until June.',
  'We graft from it every February, and half of the grafts take.',
  'The fungus at its foot is old and does less harm than it looks.',
  'A label in copper replaced the tin one, which the squirrels had chewed.',
  'From the bench one sees the river, the mill and, on clear days, the moor.',
  'Leaf fall comes a fortnight later than it did when the register was begun.',
  'Seed is gathered by hand and dried on the loft above the gatehouse.',
]
const ENDS = ['Come and see for yourself.', 'The register has more.', 'Bring boots.', 'We will report in spring.']

/** Paragraphs in the voice of the garden; the seed decides which. */
export function prose(seed: number, paragraphs: number): string {
  const random = seeded(seed)
  const pick = <T>(list: readonly T[]) => list[Math.floor(random() * list.length)]!
  return Array.from({ length: paragraphs }, (_, n) => {
    const middle = Array.from({ length: 3 + Math.floor(random() * 3) }, () => pick(MIDDLES))
    return `<p>${n === 0 ? `${pick(OPENINGS)}. ` : ''}${[...new Set(middle)].join(' ')}${n === paragraphs - 1 ? ` ${pick(ENDS)}` : ''}</p>`
  }).join('\n')
}
