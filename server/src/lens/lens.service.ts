import { Inject, Injectable } from '@nestjs/common'
import { UniqueConstraintError } from 'sequelize'
import type { Lens, LensInput, LensVisitor } from '@unvelt/contract'
import { CONFIG } from '../config/config.module.js'
import type { Config } from '../config/config.js'
import { notFound, ProblemError } from '../problem/problem.error.js'
import { seal } from '../site/secret-box.js'
import { SweepRow } from '../sweep/sweep.model.js'
import type { LensSettings } from './lens-settings.js'
import { LensRow } from './lens.model.js'

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

  /** Changes a lens that no sweep was made through: figures must go on meaning what they meant. */
  async change(siteId: number, id: number, input: LensInput): Promise<Lens> {
    const row = await this.unused(siteId, id, 'changed')
    return this.store(input.name, () => row.update({ name: input.name, settings: this.settings(input) }))
  }

  async remove(siteId: number, id: number): Promise<void> {
    const row = await this.unused(siteId, id, 'removed')
    if ((await LensRow.count({ where: { siteId } })) === 1)
      throw new ProblemError(409, 'A site needs at least one lens.')
    await row.destroy()
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

  private async unused(siteId: number, id: number, verb: string): Promise<LensRow> {
    const row = await LensRow.findOne({ where: { siteId, id } })
    if (!row) throw notFound('lens')
    const sweeps = await SweepRow.count({ where: { lensId: id } })
    if (sweeps > 0)
      throw new ProblemError(
        409,
        `${row.name} can’t be ${verb}: ${sweeps} ${sweeps === 1 ? 'sweep was' : 'sweeps were'} made through it.`,
      )
    return row
  }

  private settings({ device, network, visitor, cache }: LensInput): LensSettings {
    return { device: { ...device }, network: network ? { ...network } : null, visitor: this.sealed(visitor), cache }
  }

  private sealed({ kind, role = '', cookie, path, fields }: LensVisitor): LensSettings['visitor'] {
    const need = (field: string, message: string) =>
      new ProblemError(422, message, [{ field: `visitor/${field}`, message }])
    switch (kind) {
      case 'signed-out':
        return { kind }
      case 'cookie':
        if (!cookie) throw need('cookie', 'Enter the cookie that signs the visitor in.')
        return { kind, role, sealed: seal(cookie, this.config.secret) }
      case 'form':
        if (!path) throw need('path', 'Enter the path that the sign-in form is sent to.')
        if (!fields || Object.keys(fields).length === 0 || !Object.values(fields).every((v) => typeof v === 'string'))
          throw need('fields', 'Enter the fields of the sign-in form.')
        return { kind, role, path, sealed: seal(JSON.stringify(fields), this.config.secret) }
    }
  }
}

async function view(row: LensRow): Promise<Lens> {
  const { device, network, visitor, cache } = row.settings
  return {
    id: row.id,
    name: row.name,
    device,
    network,
    visitor: visitor.kind,
    role: visitor.kind === 'signed-out' ? null : visitor.role,
    cache,
    sweeps: await SweepRow.count({ where: { lensId: row.id } }),
  }
}
