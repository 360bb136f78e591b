import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'

/** The figures of one reading that are compared; null where the browser reported none. */
export interface WithoutFigures {
  requests: number
  transferBytes: number
  decodedBytes: number
  mainThreadMs: number
  loadMs: number | null
  largestPaintMs: number | null
  blockingMs: number | null
  complaints: string[]
}

/** A page read with and without some outsiders, in turn. */
export class WithoutRow extends Model<InferAttributes<WithoutRow>, InferCreationAttributes<WithoutRow>> {
  declare id: CreationOptional<number>
  declare pageId: number
  declare payers: string[]
  declare hosts: string[]
  declare repeats: number
  declare sides: CreationOptional<{ with: WithoutFigures[]; without: WithoutFigures[] }>
  declare failure: CreationOptional<string | null>
  declare state: CreationOptional<'waiting' | 'done'>
  declare takenAt: CreationOptional<Date>
}

export function initialiseWithout(sequelize: Sequelize): void {
  WithoutRow.init(
    {
      id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
      pageId: DataTypes.INTEGER,
      payers: DataTypes.ARRAY(DataTypes.TEXT),
      hosts: DataTypes.ARRAY(DataTypes.TEXT),
      repeats: DataTypes.INTEGER,
      sides: DataTypes.JSONB,
      failure: DataTypes.TEXT,
      state: DataTypes.TEXT,
      takenAt: DataTypes.DATE,
    },
    { sequelize, tableName: 'without_reading' },
  )
}
