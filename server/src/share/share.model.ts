import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { SharePlan } from '@unvelt/core'
import type { SharedChange } from '@unvelt/contract'

/** A page read under sets of a proof's changes. */
export class ShareRow extends Model<InferAttributes<ShareRow>, InferCreationAttributes<ShareRow>> {
  declare id: CreationOptional<number>
  declare proofId: number
  declare sweepId: number
  declare pageId: number
  declare changes: SharedChange[]
  /** Over those that do something on the page, in their order. */
  declare plan: SharePlan
  /** For each set of the plan the number of the variant that it is read by: sets that make the same page are read once. */
  declare ways: number[]
}

export function initialiseShare(sequelize: Sequelize): void {
  ShareRow.init(
    {
      id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
      proofId: DataTypes.INTEGER,
      sweepId: DataTypes.INTEGER,
      pageId: DataTypes.INTEGER,
      changes: DataTypes.JSONB,
      plan: DataTypes.JSONB,
      ways: DataTypes.JSONB,
    },
    { sequelize, tableName: 'share_finding' },
  )
}
