import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { ServerReading } from '@unvelt/core'

/** A page asked for many times without a browser. */
export class ServerReadingRow extends Model<
  InferAttributes<ServerReadingRow>,
  InferCreationAttributes<ServerReadingRow>
> {
  declare id: CreationOptional<number>
  declare pageId: number
  declare wanted: number
  declare readings: CreationOptional<ServerReading[]>
  declare failure: CreationOptional<string | null>
  declare state: CreationOptional<'waiting' | 'done'>
  declare takenAt: CreationOptional<Date>
}

export function initialiseServerReading(sequelize: Sequelize): void {
  ServerReadingRow.init(
    {
      id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
      pageId: DataTypes.INTEGER,
      wanted: DataTypes.INTEGER,
      readings: DataTypes.JSONB,
      failure: DataTypes.TEXT,
      state: DataTypes.TEXT,
      takenAt: DataTypes.DATE,
    },
    { sequelize, tableName: 'server_reading' },
  )
}
