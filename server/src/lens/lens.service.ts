import { isDeepStrictEqual } from 'node:util'
import { Inject, Injectable } from '@nestjs/common'
import { UniqueConstraintError } from 'sequelize'
import type { Lens, LensConsentInput, LensInput } from '@unvelt/contract'
import { CONFIG } from '../config/config.module.js'
import type { Config } from '../config/config.js'
import { notFound, ProblemError } from '../problem/problem.error.js'
import { SweepRow } from '../sweep/sweep.model.js'
import type { LensConsent, LensSettings } from './lens-settings.js'
import { LensRow } from './lens.model.js'
import { sealedVisitor } from './sealed-visitor.js'

/** The ways a site is looked at. */
@Injectable()
export class LensService {
  constructor(@Inject(CONFIG) private readonly config: Config) {}

  async list(siteId: number): Promise<Lens[]> {
    return Promise.all((await LensRow.findAll({ where: { siteId }, order: ['id'] })).map(view))
  }

  async add(siteId: number, input: LensInput): Promise<Lens> {
    return this.store(input.name, () => LensRow.create({ siteId, name: input.name, settings: this.settings(input) }))
  }

  /**
   * Changes a lens that no sweep was made through: figures must go on meaning what they meant. What signs its visitor in
   * runs out and can always be renewed.
   */
  async change(siteId: number, id: number, input: LensInput): Promise<Lens> {
    const row = await this.find(siteId, id)
    const settings = this.settings(input, row.settings.visitor)
    const renewed = input.name === row.name && looksAlike(row.settings, settings)
    if (!renewed) await mustBeUnused(row, 'changed')
    return this.store(input.name, () => row.update({ name: input.name, settings }))
  }

  async remove(siteId: number, id: number): Promise<void> {
    const row = await this.find(siteId, id)
    await mustBeUnused(row, 'removed')
    if ((await LensRow.count({ where: { siteId } })) === 1)
      throw new ProblemError(409, 'A site needs at least one lens.')
    await row.destroy()
  }

  /** Takes a removal back. */
  async restore(siteId: number, id: number): Promise<Lens> {
    const row = await LensRow.findOne({ where: { siteId, id }, paranoid: false })
    if (!row) throw notFound('lens')
    return this.store(row.name, async () => {
      await row.restore()
      return row
    })
  }

  private async store(name: string, save: () => Promise<LensRow>): Promise<Lens> {
    try {
      return await view(await save())
    } catch (error) {
      if (!(error instanceof UniqueConstraintError)) throw error
      const message = `There is a lens called ${name} already.`
      throw new ProblemError(409, message, [{ field: 'name', message }])
    }
  }

  private async find(siteId: number, id: number): Promise<LensRow> {
    const row = await LensRow.findOne({ where: { siteId, id } })
    if (!row) throw notFound('lens')
    return row
  }

  private settings(
    { device, network, visitor, cache, consent }: LensInput,
    kept?: LensSettings['visitor'],
  ): LensSettings {
    return {
      device: { ...device },
      network: network ? { ...network } : null,
      visitor: sealedVisitor(visitor, this.config.secret, kept),
      cache,
      consent: consent ? consentOf(consent) : null,
    }
  }
}

/** @throws ProblemError naming the field that is missing. */
function consentOf({ answer, by, selector, name = '', first, off, cookie, key, value }: LensConsentInput): LensConsent {
  const need = (field: string, message: string) =>
    new ProblemError(422, message, [{ field: `consent/${field}`, message }])
  if (by === 'press') {
    if (!selector) throw need('selector', 'Say what is pressed on the site’s banner, as a CSS selector.')
    return {
      answer,
      by,
      selector,
      name,
      ...(first && { first: { selector: first.selector, name: first.name } }),
      ...(off && off.length > 0 && { off: [...off] }),
    }
  }
  if (by === 'cookie') {
    if (!cookie) throw need('cookie', 'Enter the cookie that the site keeps of the answer.')
    return { answer, by, cookie }
  }
  if (!key || value === undefined) throw need('key', 'Enter the storage entry that the site keeps of the answer.')
  return { answer, by, key, value }
}

async function mustBeUnused({ id, name }: LensRow, verb: string): Promise<void> {
  const sweeps = await SweepRow.count({ where: { lensId: id } })
  if (sweeps > 0)
    throw new ProblemError(
      409,
      `${name} can’t be ${verb}: ${sweeps} ${sweeps === 1 ? 'sweep was' : 'sweeps were'} made through it.`,
    )
}

/** Whether two lenses differ in nothing but in what signs the visitor in. */
const looksAlike = (one: LensSettings, other: LensSettings) =>
  isDeepStrictEqual(withoutSecrets(one), withoutSecrets(other))

const withoutSecrets = ({ visitor, ...rest }: LensSettings) => ({
  ...rest,
  kind: visitor.kind,
  role: visitor.kind === 'signed-out' ? null : visitor.role,
})

async function view(row: LensRow): Promise<Lens> {
  const { device, network, visitor, cache, consent } = row.settings
  return {
    id: row.id,
    name: row.name,
    device,
    network,
    visitor: visitor.kind,
    role: visitor.kind === 'signed-out' ? null : visitor.role,
    signInPage: visitor.kind === 'form' ? (visitor.page ?? null) : null,
    signInPath: visitor.kind === 'form' ? visitor.path : null,
    cache,
    consent,
    sweeps: await SweepRow.count({ where: { lensId: row.id } }),
  }
}
