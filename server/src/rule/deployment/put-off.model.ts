import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
  type Transaction,
} from 'sequelize'
import type { PutLiveRequest, PutOff } from '@unvelt/contract'
import { ProblemError } from '../../problem/problem.error.js'
import type { DraftRule } from '../merge-rules.js'

/** Drafts that wait for their hour. */
export class PutOffRow extends Model<InferAttributes<PutOffRow>, InferCreationAttributes<PutOffRow>> {
  declare id: CreationOptional<number>
  declare siteId: number
  declare what: string
  declare dueAt: Date
  declare madeAt: CreationOptional<Date>
  /** As they were when they were put off: others go live only where somebody has looked at them. */
  declare drafts: DraftRule[]
  declare request: Pick<PutLiveRequest, 'readAgain' | 'unrehearsed' | 'net' | 'inParts'>
  declare state: CreationOptional<PutOff['state']>
  declare why: CreationOptional<string | null>
  declare deploymentId: CreationOptional<number | null>
}

export function initialisePutOff(sequelize: Sequelize): void {
  PutOffRow.init(
    {
      id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
      siteId: DataTypes.INTEGER,
      what: DataTypes.TEXT,
      dueAt: DataTypes.DATE,
      madeAt: DataTypes.DATE,
      drafts: DataTypes.JSONB,
      request: DataTypes.JSONB,
      state: DataTypes.TEXT,
      why: DataTypes.TEXT,
      deploymentId: DataTypes.INTEGER,
    },
    { sequelize, tableName: 'put_off' },
  )
}

/**
 * What waited for its hour has begun; or waits for nothing any more, since somebody did not wait for it.
 * @throws ProblemError 409 where the one that is to begin was withdrawn meanwhile.
 */
export async function settlePutOff(
  { id: deploymentId, siteId }: { id: number; siteId: number },
  putOff: number | undefined,
  transaction: Transaction,
): Promise<void> {
  const waiting = { siteId, state: 'waiting' as const }
  if (putOff === undefined) {
    await PutOffRow.update({ state: 'withdrawn', why: 'Put live by hand before.' }, { where: waiting, transaction })
    return
  }
  const [begun] = await PutOffRow.update(
    { state: 'begun', deploymentId },
    { where: { ...waiting, id: putOff }, transaction },
  )
  if (begun === 0) throw new ProblemError(409, 'It was withdrawn meanwhile.')
}

export const putOffView = (row: PutOffRow): PutOff => ({
  id: row.id,
  what: row.what,
  dueAt: row.dueAt.toISOString(),
  madeAt: row.madeAt.toISOString(),
  state: row.state,
  why: row.why,
  deploymentId: row.deploymentId,
})
