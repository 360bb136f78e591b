import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { DraftRule } from './merge-rules.js'

/** A rule being written, not yet live. */
export class DraftRow extends Model<InferAttributes<DraftRow>, InferCreationAttributes<DraftRow>> {
  declare id: string
  declare siteId: number
  declare rule: DraftRule
  /** Why it is not to go live as it is; null for one that is. */
  declare aside: CreationOptional<{ why: string; at: string } | null>
  declare createdAt: CreationOptional<Date>
}

export function initialiseDraft(sequelize: Sequelize): void {
  DraftRow.init(
    {
      id: { type: DataTypes.UUID, primaryKey: true },
      siteId: DataTypes.INTEGER,
      rule: DataTypes.JSONB,
      aside: DataTypes.JSONB,
      createdAt: DataTypes.DATE,
    },
    { sequelize, tableName: 'draft' },
  )
}
