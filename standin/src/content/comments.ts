import { seeded } from '@unvelt/core'

const NAMES = 'Ottoline Perrin Maud Casimir Hedda Wendel Isolde Barnaby Tilda Corwin Elspeth Jorun Percy Salome'.split(
  ' ',
)
const BEGINNINGS = [
  'I remember that tree',
  'My mother brought me here',
  'We came by the river bus',
  'It looked smaller this year',
  'Thank you for writing this down',
  'The bench beside it is where we met',
  'I would not have known the name',
]
const MIDDLES = [
  'in the year the weir froze',
  'when the path was still gravel',
  'on the first warm Sunday',
  'with the whole class behind me',
  'and stayed until the gate closed',
  'and have come back every autumn',
]
const ENDS = [
  '.',
  ', and it has not changed.',
  '. Is the lower gate open again?',
  '. The owls were loud.',
  ', muddy boots and all.',
]

/** What readers have said, made up from a seed. */
export function comments(count: number): { author: string; words: string }[] {
  const random = seeded(1891)
  const pick = <T>(list: readonly T[]) => list[Math.floor(random() * list.length)]!
  return Array.from({ length: count }, () => ({
    author: pick(NAMES),
    words: `${pick(BEGINNINGS)} ${pick(MIDDLES)}${pick(ENDS)}`,
  }))
}
