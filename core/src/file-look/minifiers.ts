/** An add-on as its site tells of it. */
export interface ToldAddOn {
  name: string
  summary: string
  jobs: readonly string[]
  active: boolean
}

const CODE = '(?:files?|scripts?|styles?|stylesheets?|code|css|javascript|assets)'
/** In the words of add-ons' makers. `Smaller pictures` is another job. */
const MAKES_SMALLER = new RegExp(
  `\\bminif|\\bmak\\w+ (?:\\w+ ){0,2}${CODE} smaller|\\bsmaller ${CODE}\\b|\\b(?:shrink|compact|squeez|compress)\\w* (?:\\w+ ){0,2}${CODE}\\b`,
  'i',
)

/** Those that are on and make code smaller, by what is told of them. Two at once do the same work twice, one on what the other left. */
export const minifiers = <A extends ToldAddOn>(addOns: readonly A[]): A[] =>
  addOns.filter(
    ({ active, name, summary, jobs }) => active && [name, summary, ...jobs].some((said) => MAKES_SMALLER.test(said)),
  )
