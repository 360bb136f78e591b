import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import { completeSettings, type LensSettings } from './lens-settings.js'

export class LensRow extends Model<InferAttributes<LensRow>, InferCreationAttributes<LensRow>> {
  declare id: CreationOptional<number>
  declare siteId: number
  declare name: string
  declare settings: LensSettings
}

export function initialiseLens(sequelize: Sequelize): void {
  LensRow.init(
    {
      id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
      siteId: DataTypes.INTEGER,
      name: DataTypes.TEXT,
      settings: {
        type: DataTypes.JSONB,
        get(this: LensRow): LensSettings {
          return completeSettings(this.getDataValue('settings'))
        },
      },
    },
    { sequelize, tableName: 'lens' },
  )
}
