import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { Visit } from '@unvelt/core'
import { completeSettings, type LensSettings } from './lens-settings.js'

export class LensRow extends Model<InferAttributes<LensRow>, InferCreationAttributes<LensRow>> {
  declare id: CreationOptional<number>
  declare siteId: number
  declare name: string
  declare settings: LensSettings
  /** Set as long as the lens can be brought back; such a one is found by nobody who doesn’t ask for it. */
  declare removedAt: CreationOptional<Date | null>
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
      removedAt: DataTypes.DATE,
    },
    {
      sequelize,
      tableName: 'lens',
      timestamps: true,
      createdAt: false,
      updatedAt: false,
      paranoid: true,
      deletedAt: 'removedAt',
    },
  )
}

/** A lens as rules see it. */
export const visitOf = ({ settings: { device, visitor } }: Pick<LensRow, 'settings'>): Visit => ({
  device: device.phone ? 'handset' : 'desk',
  visitor: visitor.kind === 'signed-out' ? 'signed-out' : 'signed-in',
})
