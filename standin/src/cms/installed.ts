import { installedDaysAgo } from '../add-ons/installed-when.js'
import type { AddOn, Manifest } from './add-on.js'
import type { Database } from './database.js'
import { Refusal } from './refusal.js'

interface State {
  slug: string
  version: string
  active: boolean
  removed: boolean
  installed_at: Date
  features: Record<string, boolean>
  settings: Record<string, number>
}

/** The add-ons as they are installed: which version, on or off, their features and settings. Kept in the database. */
export class Installed {
  private states = new Map<string, State>()
  private current: AddOn[] = []
  private listeners: (() => void)[] = []

  constructor(
    private readonly catalogue: readonly AddOn[],
    private readonly database: Database,
  ) {}

  async setUp(): Promise<void> {
    await this.database.query(
      `create table if not exists loam_add_ons (slug text primary key, version text not null, active boolean not null,
       removed boolean not null default false, installed_at timestamptz not null default now(),
       features jsonb not null default '{}', settings jsonb not null default '{}')`,
    )
    for (const { manifest, active = true, offered = false } of this.catalogue)
      await this.database.query(
        `insert into loam_add_ons (slug, version, active, installed_at, removed)
         values ($1, $2, $3, now() - make_interval(days => $4), $5) on conflict do nothing`,
        [manifest.slug, manifest.version, active, installedDaysAgo(manifest.slug), offered],
      )
    await this.reload()
    for (const addOn of this.current) await addOn.setUp?.(this.database)
  }

  /** Reads the state again, for instance after a snapshot was restored. */
  async reload(): Promise<void> {
    const rows = await this.database.query<State>('select * from loam_add_ons')
    this.states = new Map(rows.map((row) => [row.slug, row]))
    this.current = this.catalogue.flatMap((addOn) => {
      const state = this.states.get(addOn.manifest.slug)
      return state && !state.removed ? [this.asInstalled(addOn, state)] : []
    })
    for (const listener of this.listeners) listener()
  }

  onChange(listener: () => void): void {
    this.listeners.push(listener)
  }

  /** In the order in which the CMS runs them. */
  get addOns(): readonly AddOn[] {
    return this.current
  }

  isOn(slug: string, feature?: string): boolean {
    const addOn = this.current.find((a) => a.manifest.slug === slug)
    if (!addOn || addOn.active === false) return false
    return feature === undefined || addOn.manifest.features.some((f) => f.slug === feature && f.on)
  }

  installedAt(slug: string): Date | null {
    return this.states.get(slug)?.installed_at ?? null
  }

  versionsOf(slug: string): string[] {
    const addOn = this.catalogue.find((a) => a.manifest.slug === slug)
    return addOn ? [addOn, ...(addOn.releases ?? [])].map((a) => a.manifest.version) : []
  }

  /** Slug of the add-on that draws a block, installed or not. */
  drawerOf(block: string): string | undefined {
    return this.catalogue.find(({ blocks }) => blocks && Object.hasOwn(blocks, block))?.manifest.slug
  }

  /** @throws Refusal 404 for an add-on that is not installed. */
  get(slug: string): AddOn {
    const addOn = this.current.find((a) => a.manifest.slug === slug)
    if (!addOn) throw new Refusal(404, `No add-on ${JSON.stringify(slug)} is installed.`)
    return addOn
  }

  async switch(slug: string, active: boolean): Promise<void> {
    this.refuseForTheme(this.get(slug).manifest)
    await this.change(slug, 'active = $2', active)
  }

  /** Sets some features and settings, all or none. @throws Refusal 422 naming what is not there or out of range. */
  async set(slug: string, features: Record<string, unknown>, settings: Record<string, unknown>): Promise<void> {
    const { manifest } = this.get(slug)
    const problems = [
      ...Object.entries(features).flatMap(([name, on]) =>
        !manifest.features.some((f) => f.slug === name)
          ? [{ at: `/features/${name}`, expected: 'a feature of this add-on' }]
          : typeof on === 'boolean'
            ? []
            : [{ at: `/features/${name}`, expected: 'true or false' }],
      ),
      ...Object.entries(settings).flatMap(([name, value]) => {
        const setting = manifest.settings?.find((s) => s.slug === name)
        if (!setting) return [{ at: `/settings/${name}`, expected: 'a setting of this add-on' }]
        const fits = Number.isInteger(value) && Number(value) >= setting.least && Number(value) <= setting.most
        return fits
          ? []
          : [{ at: `/settings/${name}`, expected: `a whole number from ${setting.least} to ${setting.most}` }]
      }),
    ]
    if (problems.length > 0) throw new Refusal(422, 'Nothing was changed.', { problems })
    await this.change(slug, 'features = features || $2::jsonb', JSON.stringify(features))
    await this.change(slug, 'settings = settings || $2::jsonb', JSON.stringify(settings))
  }

  /** Installs an add-on that is not there, or another version of one that is. */
  async install(slug: string, version?: string): Promise<void> {
    const versions = this.versionsOf(slug)
    if (versions.length === 0) throw new Refusal(404, `Nobody offers an add-on ${JSON.stringify(slug)}.`)
    const wanted = version ?? versions[0]!
    if (!versions.includes(wanted))
      throw new Refusal(422, `There is no version ${JSON.stringify(version)} of ${slug}.`, {
        problems: [{ at: '/version', expected: `one of ${versions.join(', ')}` }],
      })
    const fresh = this.states.get(slug)?.removed
    await this.change(
      slug,
      fresh ? 'version = $2, removed = false, active = true, installed_at = now()' : 'version = $2',
      wanted,
    )
    await this.get(slug).setUp?.(this.database)
  }

  /** Takes the add-on's code away. Its tables, options and tasks stay, as they do in real systems. */
  async remove(slug: string): Promise<void> {
    this.refuseForTheme(this.get(slug).manifest)
    await this.change(slug, 'removed = $2, active = false', true)
  }

  private refuseForTheme({ kind, name }: Manifest): void {
    if (kind === 'theme') throw new Refusal(409, `${name} is the site’s only theme; without one there is no page.`)
  }

  private async change(slug: string, assignment: string, value: unknown): Promise<void> {
    await this.database.query(`update loam_add_ons set ${assignment} where slug = $1`, [slug, value])
    await this.reload()
  }

  private asInstalled(newest: AddOn, state: State): AddOn {
    const addOn = newest.releases?.find((release) => release.manifest.version === state.version) ?? newest
    const { manifest } = addOn
    return {
      ...addOn,
      active: state.active,
      manifest: {
        ...manifest,
        features: manifest.features.map((f) => ({ ...f, on: state.features[f.slug] ?? f.on })),
        ...(manifest.settings && {
          settings: manifest.settings.map((s) => ({ ...s, value: state.settings[s.slug] ?? s.value })),
        }),
      },
    }
  }
}
