import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { AddOn, AddOnFeature, AddOnSetting, AddOnTable, AddOnTask } from '@unvelt/contract'

export class AddOnRow extends Model<InferAttributes<AddOnRow>, InferCreationAttributes<AddOnRow>> {
  declare id: CreationOptional<number>
  declare siteId: number
  declare slug: string
  declare kind: string
  declare name: string
  declare version: string | null
  declare author: string | null
  declare summary: string
  declare source: 'connector' | 'reading' | 'hand'
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

export const addOnView = (row: AddOnRow): AddOn => ({
  id: row.id,
  slug: row.slug,
  kind: row.kind,
  name: row.name,
  version: row.version,
  author: row.author,
  summary: row.summary,
  source: row.source,
  needs: row.needs,
  library: row.library,
  canSkip: row.canSkip,
  active: row.active,
  since: row.since?.toISOString() ?? null,
  versions: row.versions,
  features: row.features,
  settings: row.settings,
  tables: row.tables,
  tasks: row.tasks,
  works: row.works,
  insertedBy: row.insertedBy,
  files: row.files,
  outsideHosts: row.outsideHosts,
})
