import { DataTypes, Model, type InferAttributes, type InferCreationAttributes, type Sequelize } from 'sequelize'
import type { RemadeAs } from '@unvelt/contract'

/** One picture of a look, as it was found or as it was made anew. */
export class PictureFileRow extends Model<InferAttributes<PictureFileRow>, InferCreationAttributes<PictureFileRow>> {
  declare readingOnDemandId: number
  declare n: number
  declare as: 'was' | RemadeAs
  declare content: Buffer
}

export function initialisePictureFile(sequelize: Sequelize): void {
  PictureFileRow.init(
    {
      readingOnDemandId: { type: DataTypes.INTEGER, primaryKey: true },
      n: { type: DataTypes.INTEGER, primaryKey: true },
      as: { type: DataTypes.TEXT, primaryKey: true },
      content: DataTypes.BLOB,
    },
    { sequelize, tableName: 'picture_file' },
  )
}
