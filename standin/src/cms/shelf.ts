import { SHELF } from '../add-ons/shelf.js'
import type { RuleProblem } from '@unvelt/core'
import type { AddOn, AddOnFile } from './add-on.js'
import type { Installed } from './installed.js'

/** What can be tried: slug → version, or null for as if it was not there. */
export type OnTrial = Record<string, string | null>

/** Add-ons that can be tried on a page that is measured, and are installed nowhere by that. */
export class Shelf {
  constructor(
    private readonly installed: Installed,
    private readonly catalogue: readonly AddOn[],
  ) {}

  /** Every version that is not the installed one: of what nobody has, of what went, and of what is there. */
  list() {
    return this.all().map(({ manifest: { slug, name, version, kind, author, summary } }) => ({
      slug,
      name,
      version,
      kind,
      author,
      summary,
    }))
  }

  private all(): AddOn[] {
    const now = new Map(this.installed.addOns.map(({ manifest }) => [manifest.slug, manifest.version]))
    return [...SHELF, ...this.catalogue]
      .flatMap((addOn) => [addOn, ...(addOn.releases ?? [])])
      .filter(({ manifest: { slug, version, kind } }) => kind !== 'theme' && now.get(slug) !== version)
  }

  problemsOf(wanted: OnTrial): RuleProblem[] {
    const all = this.all()
    const isThere = (slug: string) => this.installed.addOns.some(({ manifest }) => manifest.slug === slug)
    return Object.entries(wanted).flatMap(([slug, version]) => {
      const at = `/addOns/${slug}`
      if (version === null) return isThere(slug) ? [] : [{ at, expected: 'an add-on of this site' }]
      const versions = all.filter(({ manifest }) => manifest.slug === slug).map(({ manifest }) => manifest.version)
      return versions.includes(version)
        ? []
        : [{ at, expected: versions.length === 0 ? 'an add-on of the shelf' : `one of ${versions.join(', ')}` }]
    })
  }

  /** The site's add-ons as they would be: exchanged in their place, taken out, and what is new at the end. */
  withOnTrial(wanted: OnTrial): AddOn[] {
    if (Object.keys(wanted).length === 0) return [...this.installed.addOns]
    const all = this.all()
    const offered = (slug: string) =>
      all.find(({ manifest }) => manifest.slug === slug && manifest.version === wanted[slug])
    const here = this.installed.addOns.flatMap((addOn) => {
      const { slug } = addOn.manifest
      if (!Object.hasOwn(wanted, slug)) return [addOn]
      const other = offered(slug)
      return other ? [{ ...other, active: true }] : []
    })
    const known = new Set(this.installed.addOns.map(({ manifest }) => manifest.slug))
    const fresh = Object.keys(wanted).flatMap((slug) => (known.has(slug) ? [] : (offered(slug) ?? [])))
    return [...here, ...fresh]
  }

  /** A page with the files of what is on trial by addresses of their own: the installed version has the same paths. */
  namedOnTrial(html: string, wanted: OnTrial): string {
    const here = new Set(this.installed.addOns.flatMap(({ files }) => files.map(({ path }) => path)))
    return this.onTrial(wanted).reduce(
      (page, { manifest: { version }, files }) =>
        files
          .filter(({ path }) => here.has(path))
          .reduce((text, { path }) => text.replaceAll(`"${path}"`, `"${path}?trial=${version}"`), page),
      html,
    )
  }

  /** A file of the version that an address names; undefined where nobody tries it. */
  fileOf(wanted: readonly OnTrial[], { pathname, searchParams }: URL): AddOnFile | undefined {
    const version = searchParams.get('trial')
    if (version === null) return undefined
    return wanted
      .flatMap((one) => this.onTrial(one))
      .filter(({ manifest }) => manifest.version === version)
      .flatMap(({ files }) => files)
      .find(({ path }) => path === pathname)
  }

  private onTrial(wanted: OnTrial): AddOn[] {
    return this.withOnTrial(wanted).filter(
      ({ manifest: { slug, version } }) => Object.hasOwn(wanted, slug) && wanted[slug] === version,
    )
  }

  filesOf(wanted: OnTrial): AddOnFile[] {
    return this.withOnTrial(wanted).flatMap((addOn) => (Object.hasOwn(wanted, addOn.manifest.slug) ? addOn.files : []))
  }

  /** Whether one of them has tables of its own, which the page that is tried would read. */
  setUps(wanted: OnTrial): NonNullable<AddOn['setUp']>[] {
    return this.withOnTrial(wanted).flatMap((addOn) =>
      Object.hasOwn(wanted, addOn.manifest.slug) && addOn.setUp ? [addOn.setUp] : [],
    )
  }
}
