import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { ServerReading } from '@unvelt/core'

/** An action of the site with every try of it. */
export interface TriedAction {
  name: string
  method: 'GET' | 'POST'
  path: string
  as: string
  readings: ServerReading[]
  traceIds: string[]
}

/** The actions of a site, each tried several times. */
export class ActionRow extends Model<InferAttributes<ActionRow>, InferCreationAttributes<ActionRow>> {
  declare id: CreationOptional<number>
  declare siteId: number
  /** Tries of each action. */
  declare wanted: number
  declare actions: CreationOptional<TriedAction[]>
  declare failure: CreationOptional<string | null>
  declare state: CreationOptional<'waiting' | 'done'>
  declare takenAt: CreationOptional<Date>
}

export function initialiseAction(sequelize: Sequelize): void {
  ActionRow.init(
    {
      id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
      siteId: DataTypes.INTEGER,
      wanted: DataTypes.INTEGER,
      actions: DataTypes.JSONB,
      failure: DataTypes.TEXT,
      state: DataTypes.TEXT,
      takenAt: DataTypes.DATE,
    },
    { sequelize, tableName: 'action_reading' },
  )
}
