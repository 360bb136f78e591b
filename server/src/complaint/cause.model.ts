import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { CauseStage, Complaint } from '@unvelt/core'
import type { CauseSearch } from '@unvelt/contract'

/** The search for what a live page complains for, under one lens. */
export class CauseSearchRow extends Model<InferAttributes<CauseSearchRow>, InferCreationAttributes<CauseSearchRow>> {
  declare id: CreationOptional<number>
  declare siteId: number
  declare pageId: number
  declare lensId: number
  declare kind: Complaint['kind']
  declare text: string
  declare state: CreationOptional<CauseSearch['state']>
  /** Add-ons, then features and files of the guilty one. */
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
