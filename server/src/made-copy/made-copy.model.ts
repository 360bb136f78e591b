import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { LighterBy } from '@unvelt/core'

/** A copy that was made of one of a site's files, to be served in its place. It stays as it is, since rules name it by its content. */
export class MadeCopyRow extends Model<InferAttributes<MadeCopyRow>, InferCreationAttributes<MadeCopyRow>> {
  declare siteId: number
  /** Hashes of what is in it and of the file that it was made from (SRI). */
  declare content: string
  declare from: string
  /** Of the file, as pages name it; and its name in rules. */
  declare address: string
  declare file: string
  declare addon: string
  /** Packed with Brotli. */
  declare body: Buffer
  declare lighterBy: LighterBy
  declare leftOut: number
  declare madeAt: CreationOptional<Date>
}

export function initialiseMadeCopy(sequelize: Sequelize): void {
  MadeCopyRow.init(
    {
      siteId: { type: DataTypes.INTEGER, primaryKey: true },
      content: { type: DataTypes.TEXT, primaryKey: true },
      from: DataTypes.TEXT,
      address: DataTypes.TEXT,
      file: { type: DataTypes.TEXT, primaryKey: true },
      addon: DataTypes.TEXT,
      body: DataTypes.BLOB,
      lighterBy: DataTypes.JSONB,
      leftOut: DataTypes.INTEGER,
      madeAt: DataTypes.DATE,
    },
    { sequelize, tableName: 'made_copy' },
  )
}
