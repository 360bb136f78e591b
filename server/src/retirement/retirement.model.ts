import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { MissedRequest, Searched, PerThousand } from '@unvelt/core'
import type {
  LeftoverView,
  OwnersWord,
  RetirementAct,
  RetirementLogEntry,
  RetirementSnapshot,
  Successor,
} from '@unvelt/contract'

/** A page that was in use when the retirement began, and what was written down about changing it. */
export interface WorkEntry {
  pageId: number
  because: string[]
  owner: string
  due: string | null
}

/** The removal of one add-on, as far as it has come. */
export class RetirementRow extends Model<InferAttributes<RetirementRow>, InferCreationAttributes<RetirementRow>> {
  declare id: CreationOptional<number>
  declare siteId: number
  declare slug: string
  declare name: string
  declare version: string | null
  /** Slugs of the features that are to go, where the add-on itself stays. */
  declare features: CreationOptional<string[] | null>
  /** It went before Unvelt came; only what it left behind is to go. */
  declare wasGone: CreationOptional<boolean>
  declare state: CreationOptional<'open' | 'paused' | 'done' | 'cancelled'>
  /** What it cost when this began. */
  declare before: PerThousand
  declare worklist: WorkEntry[]
  /** Its tables when this began. */
  declare tableNames: string[]
  declare successor: CreationOptional<Successor | null>
  declare word: CreationOptional<OwnersWord | null>
  declare watchDays: CreationOptional<number>
  declare snapshot: CreationOptional<RetirementSnapshot | null>
  declare rehearsalId: CreationOptional<number | null>
  declare missed: CreationOptional<MissedRequest[]>
  declare searched: CreationOptional<Searched[]>
  /** Null: those of its name. */
  declare watchWords: CreationOptional<string[] | null>
  /** What is left of it; null while nobody has looked, or where the site does not tell. */
  declare leftovers: CreationOptional<LeftoverView[] | null>
  declare lookedAt: CreationOptional<Date | null>
  declare doing: CreationOptional<RetirementAct | null>
  declare doingIds: CreationOptional<string[] | null>
  declare failure: CreationOptional<string | null>
  declare log: CreationOptional<RetirementLogEntry[]>
  declare openedAt: CreationOptional<Date>
  declare offAt: CreationOptional<Date | null>
  declare removedAt: CreationOptional<Date | null>
  declare finishedAt: CreationOptional<Date | null>
}

export function initialiseRetirement(sequelize: Sequelize): void {
  RetirementRow.init(
    {
      id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
      siteId: DataTypes.INTEGER,
      slug: DataTypes.TEXT,
      name: DataTypes.TEXT,
      version: DataTypes.TEXT,
      features: DataTypes.JSONB,
      wasGone: DataTypes.BOOLEAN,
      state: DataTypes.TEXT,
      before: DataTypes.JSONB,
      worklist: DataTypes.JSONB,
      tableNames: DataTypes.JSONB,
      successor: DataTypes.JSONB,
      word: DataTypes.JSONB,
      watchDays: DataTypes.INTEGER,
      snapshot: DataTypes.JSONB,
      rehearsalId: DataTypes.INTEGER,
      missed: DataTypes.JSONB,
      searched: DataTypes.JSONB,
      watchWords: DataTypes.JSONB,
      leftovers: DataTypes.JSONB,
      lookedAt: DataTypes.DATE,
      doing: DataTypes.TEXT,
      doingIds: DataTypes.JSONB,
      failure: DataTypes.TEXT,
      log: DataTypes.JSONB,
      openedAt: DataTypes.DATE,
      offAt: DataTypes.DATE,
      removedAt: DataTypes.DATE,
      finishedAt: DataTypes.DATE,
    },
    { sequelize, tableName: 'retirement' },
  )
}

export const logged = ({ log }: Pick<RetirementRow, 'log'>, said: string, who = ''): RetirementLogEntry[] => [
  ...log,
  { at: new Date().toISOString(), said, who },
]
