import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { AttributionSources } from '@unvelt/core'
import type { SampleView } from '@unvelt/contract'
import type { SweepStatus } from '@unvelt/contract'

/** One way a page is read in a sweep: under the live rules, or under those of an older version. */
export interface Variant {
  name: 'live' | 'before' | 'after'
  rules: 'live' | number
}

/** What is remembered of an add-on at the time of a sweep. */
export interface InventoryEntry {
  slug: string
  name: string
  kind: string
  version: string | null
  active: boolean
  featuresOn: number
}

export class SweepRow extends Model<InferAttributes<SweepRow>, InferCreationAttributes<SweepRow>> {
  declare id: CreationOptional<number>
  declare siteId: number
  declare lensId: number | null
  declare purpose: 'survey' | 'proof' | 'import'
  declare status: SweepStatus
  /** Why it stands still, where that is not somebody's wish. */
  declare why: CreationOptional<string | null>
  /** The first of the sweeps that were started together, one for each lens. */
  declare runId: CreationOptional<number | null>
  declare repeats: number
  declare variants: Variant[]
  /** What was known of the site when the sweep began, so that its readings can be charged again later. */
  declare sources: AttributionSources
  /** The add-ons that the site had when the sweep began. */
  declare inventory: CreationOptional<InventoryEntry[]>
  declare startedAt: CreationOptional<Date>
  /** Which pages it reads, where not all. */
  declare sample: CreationOptional<SampleView | null>
  /** Whether its tolls are being worked out anew. */
  declare recomputing: CreationOptional<boolean>
  declare finishedAt: CreationOptional<Date | null>
}

export function initialiseSweep(sequelize: Sequelize): void {
  SweepRow.init(
    {
      id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
      siteId: DataTypes.INTEGER,
      lensId: DataTypes.INTEGER,
      purpose: DataTypes.TEXT,
      status: DataTypes.TEXT,
      why: DataTypes.TEXT,
      runId: DataTypes.INTEGER,
      repeats: DataTypes.INTEGER,
      variants: DataTypes.JSONB,
      sources: DataTypes.JSONB,
      inventory: DataTypes.JSONB,
      startedAt: DataTypes.DATE,
      sample: DataTypes.JSONB,
      recomputing: DataTypes.BOOLEAN,
      finishedAt: DataTypes.DATE,
    },
    { sequelize, tableName: 'sweep' },
  )
}

/** How many repeats of each page give no times: a survey's first looks at everything instead. */
export const untimedRepeats = ({ purpose }: Pick<SweepRow, 'purpose'>): number => (purpose === 'survey' ? 1 : 0)
