import { KINDS_LISTED, ListProblem, slugOf, textAt, type ListedAddOn } from './listed.js'

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
  const read = listAt(components, '/components').map((entry, n) => {
    const at = `/components/${n}`
    const component = recordAt(entry, at)
    const name = textAt(component.name, `${at}/name`, true)
    const ref = textAt(component['bom-ref'], `${at}/bom-ref`)
    const slug = slugOf(/^[a-z0-9][a-z0-9_-]*$/.test(ref) ? ref : name)
    if (slug === '') throw new ListProblem(`${at}/name`, 'a name with a letter or digit')
    return { ref, addOn: { slug, name, ...detailsOf(component, at), needs: [] as string[] } }
  })
  const slugs = new Map(read.map(({ ref, addOn }) => [ref, addOn.slug]))
  return read.map(({ ref, addOn }) => ({
    ...addOn,
    needs: (needs.get(ref) ?? []).flatMap((other) => slugs.get(other) ?? []),
  }))
}

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
