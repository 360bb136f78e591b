import { Inject, Injectable } from '@nestjs/common'
import { Sequelize } from 'sequelize'
import { fromCycloneDx, KINDS_LISTED, ListProblem, Slugs, toCycloneDx, type ListedAddOn } from '@unvelt/core'
import type { AddOn, InventoryTaken } from '@unvelt/contract'
import { AddOnRow, NO_ADD_ON } from '../add-on/add-on.model.js'
import { AddOnService } from '../add-on/add-on.service.js'
import { ProblemError } from '../problem/problem.error.js'
import type { SiteRow } from '../site/site.model.js'
import { csvRecords } from '../use/csv-records.js'
import { csvOf } from './csv.js'

const COLUMNS: [name: string, of: (addOn: AddOn) => string | number | null][] = [
  ['slug', ({ slug }) => slug],
  ['name', ({ name }) => name],
  ['kind', ({ kind }) => kind],
  ['version', ({ version }) => version],
  ['author', ({ author }) => author],
  ['summary', ({ summary }) => summary],
  ['state', ({ gone, active }) => (gone ? 'gone' : active ? 'on' : 'off')],
  ['since', ({ since }) => since?.slice(0, 10) ?? null],
  ['jobs', ({ jobs }) => jobs.join('; ')],
  ['needs', ({ needs }) => needs.join('; ')],
  ['hosts', ({ outsideHosts }) => outsideHosts.join('; ')],
  ['verdict', ({ verdict }) => verdict.verdict],
  ['why', ({ verdict }) => verdict.why],
  ['owner', ({ owner }) => owner],
  ['purpose', ({ purpose }) => purpose],
  ['worth', ({ worth }) => worth],
  ['known from', ({ source }) => source],
]
/** Columns that only people fill. */
const PEOPLE = ['owner', 'purpose', 'worth'] as const

interface Told extends ListedAddOn {
  jobs?: string[]
  owner?: string
  purpose?: string
  worth?: string
}

/** The inventory as lists that other tools write and read. */
@Injectable()
export class InventoryService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    private readonly addOns: AddOnService,
  ) {}

  async csv(site: SiteRow): Promise<string> {
    const rows = await this.addOns.list(site.id)
    return csvOf(
      COLUMNS.map(([name]) => name),
      rows.map((addOn) => COLUMNS.map(([, of]) => of(addOn))),
    )
  }

  async cycloneDx(site: SiteRow): Promise<object> {
    const rows = (await this.addOns.list(site.id)).filter(({ gone }) => !gone)
    return toCycloneDx(site, rows, new Date().toISOString())
  }

  /** Takes a list in, all of it or nothing. What is known already keeps its entry and learns what it did not know. */
  async take(site: SiteRow, text: string): Promise<InventoryTaken> {
    const told = text.trimStart().startsWith('{') ? cycloneDxIn(text) : csvIn(text)
    const rows = await AddOnRow.findAll({ where: { siteId: site.id } })
    const bySlug = new Map(rows.map((row) => [row.slug, row]))
    const byName = new Map(rows.map((row) => [row.name.toLowerCase(), row]))
    let added = 0
    await this.sequelize.transaction(async (transaction) => {
      for (const { slug, needs, ...facts } of told) {
        const row = bySlug.get(slug) ?? byName.get(facts.name.toLowerCase())
        const imported = Object.fromEntries(Object.entries(facts).filter(([, value]) => value !== null && value !== ''))
        if (row) {
          await row.update({ imported: { ...row.imported, ...imported } }, { transaction })
          continue
        }
        added++
        const { name, kind, version, author, summary } = facts
        const created = await AddOnRow.create(
          {
            ...NO_ADD_ON,
            siteId: site.id,
            slug,
            name,
            kind,
            version,
            author,
            summary,
            needs,
            source: 'import',
            imported,
          },
          { transaction },
        )
        bySlug.set(slug, created)
      }
    })
    return { added, known: told.length - added }
  }
}

function cycloneDxIn(text: string): Told[] {
  let document: unknown
  try {
    document = JSON.parse(text)
  } catch (error) {
    throw new ProblemError(422, `The list is not JSON: ${(error as Error).message}. Nothing was taken in.`)
  }
  try {
    return fromCycloneDx(document)
  } catch (error) {
    if (!(error instanceof ListProblem)) throw error
    throw new ProblemError(422, `${error.message} Nothing was taken in.`)
  }
}

function csvIn(text: string): Told[] {
  const slugs = new Slugs()
  return csvRecords(text, ['name']).map(({ record, line }) => {
    const name = record.name ?? ''
    if (!/[\p{L}\p{N}]/u.test(record.slug || name))
      throw new ProblemError(422, `Line ${line}, name: expected a name. Nothing was taken in.`)
    const slug = slugs.of(record.slug || name, record.slug)
    const kind = record.kind || 'plugin'
    if (!KINDS_LISTED.includes(kind))
      throw new ProblemError(
        422,
        `Line ${line}, kind: expected one of ${KINDS_LISTED.join(', ')}. Nothing was taken in.`,
      )
    const listed = (value: string | undefined) => (value ?? '').split(';').flatMap((each) => each.trim() || [])
    return {
      slug,
      name,
      kind,
      version: record.version || null,
      author: record.author || null,
      summary: record.summary ?? '',
      needs: listed(record.needs),
      ...(listed(record.jobs).length > 0 && { jobs: listed(record.jobs) }),
      ...Object.fromEntries(PEOPLE.map((fact) => [fact, record[fact] ?? ''])),
    }
  })
}
