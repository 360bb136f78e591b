import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { CauseStage, GuardResult } from '@unvelt/core'
import type { CauseSearch } from '@unvelt/contract'

/** The search for what a live page complains for, or what a guard finds on it, under one lens. */
export class CauseSearchRow extends Model<InferAttributes<CauseSearchRow>, InferCreationAttributes<CauseSearchRow>> {
  declare id: CreationOptional<number>
  declare siteId: number
  declare pageId: number
  declare lensId: number
  declare kind: CauseSearch['kind']
  /** What the page complains of; of a guard, what it found, in short. */
  declare text: string
  /** Of a guard: the round of guards on the live site in which it failed, and what it found. */
  declare roundId: CreationOptional<number | null>
  declare found: CreationOptional<Omit<GuardResult, 'outcome'> | null>
  declare state: CreationOptional<CauseSearch['state']>
  /** Levels that were begun, in their order. */
  declare stages: CreationOptional<CauseStage[]>
  /** Where in which file the browser saw it. */
  declare place: CreationOptional<string | null>
  declare failure: CreationOptional<string | null>
  declare startedAt: CreationOptional<Date>
  declare finishedAt: CreationOptional<Date | null>
}

export function initialiseCause(sequelize: Sequelize): void {
  CauseSearchRow.init(
    {
      id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
      siteId: DataTypes.INTEGER,
      pageId: DataTypes.INTEGER,
      lensId: DataTypes.INTEGER,
      kind: DataTypes.TEXT,
      text: DataTypes.TEXT,
      roundId: DataTypes.INTEGER,
      found: DataTypes.JSONB,
      state: DataTypes.TEXT,
      stages: DataTypes.JSONB,
      place: DataTypes.TEXT,
      failure: DataTypes.TEXT,
      startedAt: DataTypes.DATE,
      finishedAt: DataTypes.DATE,
    },
    { sequelize, tableName: 'cause_search' },
  )
}
