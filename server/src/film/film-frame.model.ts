import { DataTypes, Model, type InferAttributes, type InferCreationAttributes, type Sequelize } from 'sequelize'
import type { FilmSide } from '@unvelt/contract'

/** What was painted at one moment of a filmed load. */
export class FilmFrameRow extends Model<InferAttributes<FilmFrameRow>, InferCreationAttributes<FilmFrameRow>> {
  declare readingOnDemandId: number
  declare side: FilmSide
  declare n: number
  declare jpeg: Buffer
}

export function initialiseFilmFrame(sequelize: Sequelize): void {
  FilmFrameRow.init(
    {
      readingOnDemandId: { type: DataTypes.INTEGER, primaryKey: true },
      side: { type: DataTypes.TEXT, primaryKey: true },
      n: { type: DataTypes.INTEGER, primaryKey: true },
      jpeg: DataTypes.BLOB,
    },
    { sequelize, tableName: 'film_frame' },
  )
}
