import { DataTypes, Model, type InferAttributes, type InferCreationAttributes, type Sequelize } from 'sequelize'

/** How a page answered when a snapshot was made. */
export class PageAnswerRow extends Model<InferAttributes<PageAnswerRow>, InferCreationAttributes<PageAnswerRow>> {
  declare siteId: number
  /** By the site's own count. */
  declare snapshotId: number
  declare pageId: number
  /** What is steady of it, as gzipped JSON. */
  declare parts: Buffer
}

export function initialisePageAnswer(sequelize: Sequelize): void {
  PageAnswerRow.init(
    {
      siteId: { type: DataTypes.INTEGER, primaryKey: true },
      snapshotId: { type: DataTypes.INTEGER, primaryKey: true },
      pageId: { type: DataTypes.INTEGER, primaryKey: true },
      parts: DataTypes.BLOB,
    },
    { sequelize, tableName: 'page_answer' },
  )
}
