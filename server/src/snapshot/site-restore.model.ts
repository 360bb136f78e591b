import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { SiteRestore } from '@unvelt/contract'

/** A snapshot of a site that is put back, or was: whole, or what one add-on had. */
export class SiteRestoreRow extends Model<InferAttributes<SiteRestoreRow>, InferCreationAttributes<SiteRestoreRow>> {
  declare id: CreationOptional<number>
  declare siteId: number
  /** By the site's own count. */
  declare snapshotId: number
  declare snapshotName: string
  /** Slug; null where all of it is put back. */
  declare addOn: string | null
  declare state: CreationOptional<SiteRestore['state']>
  declare said: CreationOptional<string | null>
  declare who: string
  declare askedAt: CreationOptional<Date>
  declare finishedAt: CreationOptional<Date | null>
}

export function initialiseSiteRestore(sequelize: Sequelize): void {
  SiteRestoreRow.init(
    {
      id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
      siteId: DataTypes.INTEGER,
      snapshotId: DataTypes.INTEGER,
      snapshotName: DataTypes.TEXT,
      addOn: DataTypes.TEXT,
      state: DataTypes.TEXT,
      said: DataTypes.TEXT,
      who: DataTypes.TEXT,
      askedAt: DataTypes.DATE,
      finishedAt: DataTypes.DATE,
    },
    { sequelize, tableName: 'site_restore' },
  )
}
