import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'

/** How a page is looked at. */
export interface LensSettings {
  device: { viewportWidth: number; viewportHeight: number }
}

export const DEFAULT_LENS = {
  name: 'Desk, wired, signed out, cold cache',
  settings: { device: { viewportWidth: 1280, viewportHeight: 800 } } satisfies LensSettings,
}

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
      settings: DataTypes.JSONB,
    },
    { sequelize, tableName: 'lens' },
  )
}
