import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'

/** A pattern of the maintainer's own: whose the files are that fit it. */
export class PatternRow extends Model<InferAttributes<PatternRow>, InferCreationAttributes<PatternRow>> {
  declare id: CreationOptional<number>
  declare siteId: number
  declare pattern: string
  declare addon: string
}

export function initialisePattern(sequelize: Sequelize): void {
  PatternRow.init(
    {
      id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
      siteId: DataTypes.INTEGER,
      pattern: DataTypes.TEXT,
      addon: DataTypes.TEXT,
    },
    { sequelize, tableName: 'pattern' },
  )
}

/** The newest first, so that a later word stands against an earlier one. */
export async function patternsOf(siteId: number): Promise<{ pattern: string; addon: string }[]> {
  const rows = await PatternRow.findAll({ where: { siteId }, order: [['id', 'desc']] })
  return rows.map(({ pattern, addon }) => ({ pattern, addon }))
}
