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
  /** Only people who have signed in see it. */
  declare signedIn: CreationOptional<boolean>
  declare modified: string | null
  /** Page views of people in the thirty days before the site was asked; null where it doesn't count them. */
  declare views: number | null
  /** By the maintainer's own log or table, which stands against what the site counts. */
  declare importedViews: CreationOptional<number | null>
  /** The maintainer named it, so it stays though no sitemap and no link tells of it. */
  declare byHand: CreationOptional<boolean>
  /** It is not among the site's pages any more; what was read of it stays. */
  declare gone: CreationOptional<boolean>
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
      signedIn: DataTypes.BOOLEAN,
      modified: DataTypes.DATEONLY,
      views: DataTypes.INTEGER,
      importedViews: DataTypes.INTEGER,
      byHand: DataTypes.BOOLEAN,
      gone: DataTypes.BOOLEAN,
    },
    { sequelize, tableName: 'page' },
  )
}

export const pageView = ({ id, path, title, kind, area, signedIn, modified, views, importedViews }: PageRow): Page => ({
  id,
  path,
  title,
  kind,
  area,
  signedIn,
  modified,
  views: importedViews ?? views,
})
/** Finds the page at an address; of one that nobody has listed only its path is known, and that it is in nobody's back office. */
export function pageFinder(pages: readonly RulePage[]): (url: URL) => RulePage {
  const known = new Map(pages.map(({ path, kind, area }) => [path, { path, kind, area }]))
  return ({ pathname, search }) =>
    known.get(pathname + search) ?? known.get(pathname) ?? { path: pathname, kind: '', area: 'public' }
}

export const rulePage = ({ path, kind, area }: PageRow): RulePage => ({ path, kind, area })
