import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { AddOnChange, AddOnFeature, AddOnSetting, AddOnTable, AddOnTask } from '@unvelt/contract'
import type { InventoryEntry } from '../sweep/sweep.model.js'

/** Facts that no site tells, or that somebody knows better. */
export type HandFacts = AddOnChange

export class AddOnRow extends Model<InferAttributes<AddOnRow>, InferCreationAttributes<AddOnRow>> {
  declare id: CreationOptional<number>
  declare siteId: number
  declare slug: string
  declare kind: string
  declare name: string
  declare version: string | null
  declare author: string | null
  declare summary: string
  declare source: 'connector' | 'reading' | 'hand' | 'import'
  declare needs: string[]
  declare library: boolean
  declare canSkip: boolean
  declare files: { path: string; type: string; bytes: number }[]
  declare outsideHosts: string[]
  declare inlineIds: string[]
  declare active: CreationOptional<boolean>
  declare since: Date | null
  declare versions: CreationOptional<string[]>
  declare features: CreationOptional<AddOnFeature[]>
  declare settings: CreationOptional<AddOnSetting[]>
  declare tables: CreationOptional<AddOnTable[]>
  declare tasks: CreationOptional<AddOnTask[]>
  declare works: 'unseen' | 'once' | null
  declare insertedBy: string | null
  /** No longer among what the connector lists. Its past stays. */
  declare gone: CreationOptional<boolean>
  declare blocks: CreationOptional<string[]>
  /** By the connector's word. */
  declare jobs: CreationOptional<string[]>
  /** What the maintainer has written over it. */
  declare byHand: CreationOptional<HandFacts>
  /** What an imported list told. */
  declare imported: CreationOptional<HandFacts>
}

export function initialiseAddOn(sequelize: Sequelize): void {
  AddOnRow.init(
    {
      id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
      siteId: DataTypes.INTEGER,
      slug: DataTypes.TEXT,
      kind: DataTypes.TEXT,
      name: DataTypes.TEXT,
      version: DataTypes.TEXT,
      author: DataTypes.TEXT,
      summary: DataTypes.TEXT,
      source: DataTypes.TEXT,
      needs: DataTypes.ARRAY(DataTypes.TEXT),
      library: DataTypes.BOOLEAN,
      canSkip: DataTypes.BOOLEAN,
      files: DataTypes.JSONB,
      outsideHosts: DataTypes.ARRAY(DataTypes.TEXT),
      inlineIds: DataTypes.ARRAY(DataTypes.TEXT),
      active: DataTypes.BOOLEAN,
      since: DataTypes.DATE,
      versions: DataTypes.ARRAY(DataTypes.TEXT),
      features: DataTypes.JSONB,
      settings: DataTypes.JSONB,
      tables: DataTypes.JSONB,
      tasks: DataTypes.JSONB,
      works: DataTypes.TEXT,
      insertedBy: DataTypes.TEXT,
      gone: DataTypes.BOOLEAN,
      blocks: DataTypes.ARRAY(DataTypes.TEXT),
      jobs: DataTypes.ARRAY(DataTypes.TEXT),
      byHand: DataTypes.JSONB,
      imported: DataTypes.JSONB,
    },
    { sequelize, tableName: 'add_on' },
  )
}

/** Of an entry that no connector tells of, nothing is known but its name. */
export const NO_ADD_ON = {
  version: null,
  author: null,
  needs: [],
  library: false,
  canSkip: false,
  files: [],
  outsideHosts: [],
  inlineIds: [],
  since: null,
  works: null,
  insertedBy: null,
}

export const inventoryEntry = ({ slug, name, kind, version, active, features }: AddOnRow): InventoryEntry => ({
  slug,
  name,
  kind,
  version,
  active: active ?? true,
  featuresOn: (features ?? []).filter(({ on }) => on).length,
})
