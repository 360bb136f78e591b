import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { GentlerEffect, Rule } from '@unvelt/core'
import type { GentleSearch, TriedEffect } from '@unvelt/contract'

export class GentleSearchRow extends Model<InferAttributes<GentleSearchRow>, InferCreationAttributes<GentleSearchRow>> {
  declare id: CreationOptional<number>
  declare siteId: number
  /** Where the page without drafts is known from. */
  declare rehearsalId: number
  declare pageId: number
  declare lensId: number
  /** The add-on, where the search is for what works of it and nobody drafted anything; null beside a draft that broke something. */
  declare addon: CreationOptional<string | null>
  /** The draft that is to do less. */
  declare draftId: string
  /** It, and those that break something only together with it. */
  declare drafts: Rule[]
  /** What is tried in its place, what spares the most first. */
  declare effects: GentlerEffect[]
  /** The add-on's scripts and styles on the page, of which only some may go, the heaviest first. */
  declare files: CreationOptional<string[]>
  declare tries: CreationOptional<TriedEffect[]>
  declare state: CreationOptional<GentleSearch['state']>
  declare failure: CreationOptional<string | null>
  declare startedAt: CreationOptional<Date>
  declare finishedAt: CreationOptional<Date | null>
}

export function initialiseGentle(sequelize: Sequelize): void {
  GentleSearchRow.init(
    {
      id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
      siteId: DataTypes.INTEGER,
      rehearsalId: DataTypes.INTEGER,
      pageId: DataTypes.INTEGER,
      lensId: DataTypes.INTEGER,
      addon: DataTypes.TEXT,
      draftId: DataTypes.TEXT,
      drafts: DataTypes.JSONB,
      effects: DataTypes.JSONB,
      files: DataTypes.JSONB,
      tries: DataTypes.JSONB,
      state: DataTypes.TEXT,
      failure: DataTypes.TEXT,
      startedAt: DataTypes.DATE,
      finishedAt: DataTypes.DATE,
    },
    { sequelize, tableName: 'gentle_search' },
  )
}
