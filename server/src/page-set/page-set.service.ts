import { Inject, Injectable } from '@nestjs/common'
import { Sequelize, UniqueConstraintError } from 'sequelize'
import type { PageSet, PageSetChanged, PageSetInput } from '@unvelt/contract'
import { PageRow } from '../page/page.model.js'
import { notFound, ProblemError } from '../problem/problem.error.js'
import { DraftRow } from '../rule/draft.model.js'
import { DraftService } from '../rule/draft.service.js'
import { LiveRulesService } from '../rule/live-rules.service.js'
import type { SiteRow } from '../site/site.model.js'
import { draftsToFollow, followed, namesSet } from './follow-set.js'
import { PageSetRow } from './page-set.model.js'

const MOST_SETS = 500

/** Named pages. Rules hold the pages themselves beside the name, so whoever obeys them needs to know nothing of sets. */
@Injectable()
export class PageSetService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    private readonly drafts: DraftService,
    private readonly live: LiveRulesService,
  ) {}

  async list(siteId: number): Promise<PageSet[]> {
    const [rows, live, drafts, pages] = await Promise.all([
      PageSetRow.findAll({ where: { siteId }, order: ['name'] }),
      this.live.current(siteId),
      this.drafts.rules(siteId),
      PageRow.findAll({ where: { siteId, gone: false }, attributes: ['path'] }),
    ])
    const known = new Set(pages.map(({ path }) => path))
    return rows.map(({ id, name, note, paths, changedAt }) => ({
      id,
      name,
      note,
      paths,
      gone: paths.filter((path) => !known.has(path)),
      liveRules: live.rules.filter((rule) => namesSet(rule, name)).length,
      drafts: drafts.filter((rule) => namesSet(rule, name)).length,
      changedAt: changedAt.toISOString(),
    }))
  }

  async add(site: SiteRow, input: PageSetInput): Promise<PageSet[]> {
    if ((await PageSetRow.count({ where: { siteId: site.id } })) >= MOST_SETS)
      throw new ProblemError(409, `A site has ${MOST_SETS} named sets at the most.`)
    await named(() => PageSetRow.create({ siteId: site.id, ...checked(input) }), input.name)
    return this.list(site.id)
  }

  /** Live rules that say its name are drafted anew with its pages; drafts follow at once. */
  async change(site: SiteRow, id: number, input: PageSetInput): Promise<PageSetChanged> {
    const row = await this.find(site.id, id)
    const { name, note, paths } = checked(input)
    const change = { from: row.name, name, paths }
    const live = (await this.live.current(site.id)).rules
    const drafts = await DraftRow.findAll({ where: { siteId: site.id } })
    const follow = draftsToFollow(
      live,
      drafts.map(({ rule }) => followed(rule, change) ?? rule),
      change,
    )
    // Where a rule can't follow, the set stays as it was, too.
    if (follow.length > 0) await this.drafts.check(site, follow)
    await named(
      () =>
        this.sequelize.transaction(async (transaction) => {
          await row.update({ name, note, paths, changedAt: new Date() }, { transaction })
          for (const draft of drafts) {
            const rule = followed(draft.rule, change)
            if (rule) await draft.update({ rule }, { transaction })
          }
        }),
      name,
    )
    if (follow.length > 0) await this.drafts.add(site, follow)
    return { sets: await this.list(site.id), drafted: follow.length }
  }

  async remove(site: SiteRow, id: number): Promise<PageSet[]> {
    const row = await this.find(site.id, id)
    const used = (await this.list(site.id)).find((set) => set.id === id)!
    if (used.liveRules + used.drafts > 0)
      throw new ProblemError(409, `Rules still say ${row.name}; change or remove these first.`)
    await row.destroy()
    return this.list(site.id)
  }

  private async find(siteId: number, id: number): Promise<PageSetRow> {
    const row = await PageSetRow.findOne({ where: { siteId, id } })
    if (!row) throw notFound('set of pages')
    return row
  }
}

/** @throws ProblemError that says where a path is not as expected. */
function checked({ name, note = '', paths }: PageSetInput): { name: string; note: string; paths: string[] } {
  const wrong = paths.findIndex((path) => !/^\/(?![/\\])/.test(path))
  if (wrong !== -1)
    throw new ProblemError(422, 'The set is not as expected.', [
      { field: `paths/${wrong}`, message: 'Expected a path that begins with /.' },
    ])
  return { name: name.trim(), note: note.trim(), paths: [...new Set(paths)] }
}

async function named<T>(write: () => Promise<T>, name: string): Promise<T> {
  try {
    return await write()
  } catch (error) {
    if (!(error instanceof UniqueConstraintError)) throw error
    throw new ProblemError(409, `There is a set called ${name.trim()} already.`, [
      { field: 'name', message: 'That name is taken.' },
    ])
  }
}
