import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { GuardName, GuardResult, Suspicion } from '@unvelt/core'
import type { TriedDrafts } from '@unvelt/contract'

/** The search for the drafts that break something on one page under one lens. */
export class CulpritSearchRow extends Model<
  InferAttributes<CulpritSearchRow>,
  InferCreationAttributes<CulpritSearchRow>
> {
  declare id: CreationOptional<number>
  declare rehearsalId: number
  declare pageId: number
  declare lensId: number
  declare guard: GuardName
  /** What the guard found with all drafts. */
  declare found: Pick<GuardResult, 'guard' | 'gone' | 'came' | 'size'>
  declare state: CreationOptional<'running' | 'done' | 'stopped' | 'failed'>
  declare suspects: Suspicion[]
  declare tries: CreationOptional<TriedDrafts[]>
  declare culprits: CreationOptional<string[] | null>
  /** Whether the culprits are set aside, and the rest is rehearsed again. */
  declare goesOn: boolean
  /** In how many readings a failure must be seen. */
  declare sure: CreationOptional<number>
  declare failure: CreationOptional<string | null>
  declare startedAt: CreationOptional<Date>
  declare finishedAt: CreationOptional<Date | null>
}

export function initialiseCulprit(sequelize: Sequelize): void {
  CulpritSearchRow.init(
    {
      id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
      rehearsalId: DataTypes.INTEGER,
      pageId: DataTypes.INTEGER,
      lensId: DataTypes.INTEGER,
      guard: DataTypes.TEXT,
      found: DataTypes.JSONB,
      state: DataTypes.TEXT,
      suspects: DataTypes.JSONB,
      tries: DataTypes.JSONB,
      culprits: DataTypes.JSONB,
      goesOn: DataTypes.BOOLEAN,
      sure: DataTypes.SMALLINT,
      failure: DataTypes.TEXT,
      startedAt: DataTypes.DATE,
      finishedAt: DataTypes.DATE,
    },
    { sequelize, tableName: 'culprit_search' },
  )
}
