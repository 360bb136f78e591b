import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { Rule } from '@unvelt/core'

/** A set of rules as it went live, under the version number the site gave it. */
export class RuleVersionRow extends Model<InferAttributes<RuleVersionRow>, InferCreationAttributes<RuleVersionRow>> {
  declare siteId: number
  declare version: number
  declare rules: Rule[]
  declare what: string
  declare putAt: CreationOptional<Date>
}

export function initialiseRuleVersion(sequelize: Sequelize): void {
  RuleVersionRow.init(
    {
      siteId: { type: DataTypes.INTEGER, primaryKey: true },
      version: { type: DataTypes.INTEGER, primaryKey: true },
      rules: DataTypes.JSONB,
      what: DataTypes.TEXT,
      putAt: DataTypes.DATE,
    },
    { sequelize, tableName: 'rule_version' },
  )
}
