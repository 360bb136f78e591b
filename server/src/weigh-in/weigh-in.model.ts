import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { WeighedVariant } from '@unvelt/contract'

/** Variants of some pages, read in turn. */
export class WeighInRow extends Model<InferAttributes<WeighInRow>, InferCreationAttributes<WeighInRow>> {
  declare id: CreationOptional<number>
  declare siteId: number
  declare sweepId: number
  declare title: string
  /** The first is what the others are held against. */
  declare variants: WeighedVariant[]
  /** Whom they differ in, by slug, so that it is found wherever one of these stands. */
  declare addOns: string[]
  declare createdAt: CreationOptional<Date>
}

export function initialiseWeighIn(sequelize: Sequelize): void {
  WeighInRow.init(
    {
      id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
      siteId: DataTypes.INTEGER,
      sweepId: DataTypes.INTEGER,
      title: DataTypes.TEXT,
      variants: DataTypes.JSONB,
      addOns: DataTypes.ARRAY(DataTypes.TEXT),
      createdAt: DataTypes.DATE,
    },
    { sequelize, tableName: 'weigh_in' },
  )
}
