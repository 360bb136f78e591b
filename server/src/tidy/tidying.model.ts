import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { Tidying } from '@unvelt/contract'

/** What is to go, or which tables are to give their air back. */
export type TidyWish = { keeping: string; olderThanDays: number } | { tables: string[] }

/** Something that is tidied up at a site. */
export class TidyingRow extends Model<InferAttributes<TidyingRow>, InferCreationAttributes<TidyingRow>> {
  declare id: CreationOptional<number>
  declare siteId: number
  /** What it is, in words. */
  declare name: string
  declare wish: TidyWish
  /** How many things of that sort there were; whoever goes on after a kill still knows. */
  declare rowsBefore: CreationOptional<number | null>
  declare snapshotId: CreationOptional<number | null>
  declare state: CreationOptional<Tidying['state']>
  declare said: CreationOptional<string | null>
  declare who: string
  declare askedAt: CreationOptional<Date>
  declare finishedAt: CreationOptional<Date | null>
}

export function initialiseTidying(sequelize: Sequelize): void {
  TidyingRow.init(
    {
      id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
      siteId: DataTypes.INTEGER,
      name: DataTypes.TEXT,
      wish: DataTypes.JSONB,
      rowsBefore: DataTypes.INTEGER,
      snapshotId: DataTypes.INTEGER,
      state: DataTypes.TEXT,
      said: DataTypes.TEXT,
      who: DataTypes.TEXT,
      askedAt: DataTypes.DATE,
      finishedAt: DataTypes.DATE,
    },
    { sequelize, tableName: 'tidying' },
  )
}
