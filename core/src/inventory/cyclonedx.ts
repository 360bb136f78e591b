import { KINDS_LISTED, ListProblem, Slugs, textAt, type ListedAddOn } from './listed.js'

const KIND = 'unvelt:kind'

/**
 * An inventory as a CycloneDX 1.6 document (ECMA-424): a component for each add-on, what it needs as its dependencies.
 * @param at ISO 8601
 */
export function toCycloneDx(
  site: { name: string; address: string },
  addOns: readonly ListedAddOn[],
  at: string,
): object {
  return {
    bomFormat: 'CycloneDX',
    specVersion: '1.6',
    version: 1,
    metadata: {
      timestamp: at,
      component: {
        type: 'application',
        'bom-ref': 'site',
        name: site.name,
        externalReferences: [{ type: 'website', url: site.address }],
      },
    },
    components: addOns.map(({ slug, name, kind, version, author, summary }) => ({
      type: 'library',
      'bom-ref': slug,
      name,
      ...(version && { version }),
      ...(author && { publisher: author }),
      ...(summary && { description: summary }),
      properties: [{ name: KIND, value: kind }],
    })),
    dependencies: [
      { ref: 'site', dependsOn: addOns.map(({ slug }) => slug) },
      ...addOns.filter(({ needs }) => needs.length > 0).map(({ slug, needs }) => ({ ref: slug, dependsOn: needs })),
    ],
  }
}

/** Reads the components of a CycloneDX document (any 1.x). @throws ListProblem with the place in it */
export function fromCycloneDx(document: unknown): ListedAddOn[] {
  const { bomFormat, components, dependencies } = recordAt(document, '/')
  if (bomFormat !== 'CycloneDX') throw new ListProblem('/bomFormat', '"CycloneDX"')
  const needs = new Map(
    listAt(dependencies ?? [], '/dependencies').map((entry, n) => {
      const { ref, dependsOn } = recordAt(entry, `/dependencies/${n}`)
      return [
        textAt(ref, `/dependencies/${n}/ref`, true),
        listAt(dependsOn ?? [], `/dependencies/${n}/dependsOn`).map((each, m) =>
          textAt(each, `/dependencies/${n}/dependsOn/${m}`, true),
        ),
      ]
    }),
  )
  const slugs = new Slugs()
  const read = flattened(components).map(({ entry, at }) => {
    const component = recordAt(entry, at)
    const name = textAt(component.name, `${at}/name`, true)
    const ref = textAt(component['bom-ref'], `${at}/bom-ref`)
    if (!/[\p{L}\p{N}]/u.test(name)) throw new ListProblem(`${at}/name`, 'a name with a letter or digit')
    return { ref, addOn: { slug: slugs.of(name, ref), name, ...detailsOf(component, at), needs: [] as string[] } }
  })
  const slugOfRef = new Map(read.map(({ ref, addOn }) => [ref, addOn.slug]))
  return read.map(({ ref, addOn }) => ({
    ...addOn,
    needs: ref === '' ? [] : (needs.get(ref) ?? []).flatMap((other) => slugOfRef.get(other) ?? []),
  }))
}

/** Components, and those within them behind each. @throws ListProblem */
function flattened(components: unknown): { entry: unknown; at: string }[] {
  const found: { entry: unknown; at: string }[] = []
  const waiting = [{ list: listAt(components, '/components'), at: '/components', n: 0 }]
  for (let level = waiting.at(-1); level; level = waiting.at(-1)) {
    if (level.n >= level.list.length) {
      waiting.pop()
      continue
    }
    const at = `${level.at}/${level.n}`
    const entry = level.list[level.n++]
    found.push({ entry, at })
    if (found.length > MOST_COMPONENTS) throw new ListProblem('/components', 'at most 20,000 entries')
    const inner = recordAt(entry, at).components
    if (inner === undefined || inner === null) continue
    if (waiting.length >= DEEPEST) throw new ListProblem(`${at}/components`, `at most ${DEEPEST} lists in each other`)
    waiting.push({ list: listAt(inner, `${at}/components`), at: `${at}/components`, n: 0 })
  }
  return found
}

const MOST_COMPONENTS = 20_000
const DEEPEST = 20

function detailsOf(component: Record<string, unknown>, at: string) {
  const properties = listAt(component.properties ?? [], `${at}/properties`).map((p, n) =>
    recordAt(p, `${at}/properties/${n}`),
  )
  const kind = properties.find(({ name }) => name === KIND)?.value
  return {
    kind: KINDS_LISTED.find((each) => each === kind) ?? 'plugin',
    version: textAt(component.version, `${at}/version`) || null,
    author: textAt(component.publisher ?? component.author, `${at}/publisher`) || null,
    summary: textAt(component.description, `${at}/description`),
  }
}

function recordAt(value: unknown, at: string): Record<string, unknown> {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) throw new ListProblem(at, 'an object')
  return value as Record<string, unknown>
}

function listAt(value: unknown, at: string): unknown[] {
  if (!Array.isArray(value)) throw new ListProblem(at, 'a list')
  if (value.length > 20_000) throw new ListProblem(at, 'at most 20,000 entries')
  return value
}
