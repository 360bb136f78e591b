import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { Area, RulePage } from '@unvelt/core'
import type { Page } from '@unvelt/contract'

export class PageRow extends Model<InferAttributes<PageRow>, InferCreationAttributes<PageRow>> {
  declare id: CreationOptional<number>
  declare siteId: number
  declare path: string
  declare title: string
  declare kind: string
  declare area: Area
  /** The site's own order of its pages. */
  declare position: number
}

export function initialisePage(sequelize: Sequelize): void {
  PageRow.init(
    {
      id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
      siteId: DataTypes.INTEGER,
      path: DataTypes.TEXT,
      title: DataTypes.TEXT,
      kind: DataTypes.TEXT,
      area: DataTypes.TEXT,
      position: DataTypes.INTEGER,
    },
    { sequelize, tableName: 'page' },
  )
}

export const pageView = ({ id, path, title, kind, area }: PageRow): Page => ({ id, path, title, kind, area })
export const rulePage = ({ path, kind, area }: PageRow): RulePage => ({ path, kind, area })
