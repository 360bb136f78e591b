import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { AttributionSources, Rule } from '@unvelt/core'
import type { SampleView } from '@unvelt/contract'
import type { SweepPurpose, SweepStatus } from '@unvelt/contract'

/** One way a page is read in a sweep: under the live rules, under those of an older version, or under drafts. */
export interface Variant {
  name: 'live' | 'before' | 'after' | `variant-${number}`
  rules: 'live' | number
  /** All rules that hold in their place. */
  drafts?: { rules: Rule[]; addOns: Record<string, string | null> }
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
  declare purpose: SweepPurpose
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
  /** Whether it reads copies that the site makes for it, which nobody else knows. */
  declare onCopies: CreationOptional<boolean>
  /** Whether its tolls are being worked out anew. */
  declare recomputing: CreationOptional<boolean>
  declare finishedAt: CreationOptional<Date | null>
  /** The sweep from which it took the pages over to which nothing had happened, and how many these are. */
  declare basisId: CreationOptional<number | null>
  declare takenOver: CreationOptional<number | null>
  /** Since when only what it came to is kept: tolls, and none of its readings. */
  declare thinnedAt: CreationOptional<Date | null>
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
      onCopies: DataTypes.BOOLEAN,
      recomputing: DataTypes.BOOLEAN,
      finishedAt: DataTypes.DATE,
      basisId: DataTypes.INTEGER,
      takenOver: DataTypes.INTEGER,
      thinnedAt: DataTypes.DATE,
    },
    { sequelize, tableName: 'sweep' },
  )
}

/** Whether the first repeat looks at everything and gives no times, and those after it are clean. */
export const looksFirst = ({ purpose }: Pick<SweepRow, 'purpose'>): boolean =>
  purpose === 'survey' || isCompared({ purpose })

/** Whether it reads ways to make a page against each other, by what each reading tells and whoever pays. */
export const isCompared = ({ purpose }: Pick<SweepRow, 'purpose'>): boolean =>
  purpose === 'weigh-in' || purpose === 'shares'

/** How many repeats of each page give no times. */
export const untimedRepeats = (sweep: Pick<SweepRow, 'purpose'>): number => (looksFirst(sweep) ? 1 : 0)

/**
 * Whether every page is read once before any is read again: after the first round all is known but the times. What is compared
 * is read page by page, so that its sides are read under the same circumstances.
 */
export const inRounds = ({ purpose, repeats }: Pick<SweepRow, 'purpose' | 'repeats'>): boolean =>
  purpose === 'survey' && repeats > 1

/** Said of a sweep whose readings are not kept any more. */
export const onlyTolls = ({ id }: Pick<SweepRow, 'id'>): string =>
  `Of sweep ${id} only its tolls are kept by now, as the site’s settings say; its readings are not.`
