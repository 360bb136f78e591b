import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'

/** Pages that have a name together. */
export class PageSetRow extends Model<InferAttributes<PageSetRow>, InferCreationAttributes<PageSetRow>> {
  declare id: CreationOptional<number>
  declare siteId: number
  declare name: string
  /** What they have in common. */
  declare note: CreationOptional<string>
  declare paths: string[]
  declare changedAt: CreationOptional<Date>
}

export function initialisePageSet(sequelize: Sequelize): void {
  PageSetRow.init(
    {
      id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
      siteId: DataTypes.INTEGER,
      name: DataTypes.TEXT,
      note: DataTypes.TEXT,
      paths: DataTypes.JSONB,
      changedAt: DataTypes.DATE,
    },
    { sequelize, tableName: 'page_set' },
  )
}
