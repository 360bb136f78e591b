import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { GuardLook, GuardName, GuardResult, PictureChange, Rule } from '@unvelt/core'
import type { RehearsalMode, RehearsalState } from '@unvelt/contract'

/** One reading of a rehearsal, as far as it is kept. */
export interface RehearsedReading {
  side: 'without' | 'with'
  /** Of those that are there for the guards; those for the times look at nothing. */
  look: GuardLook | null
  figures: Record<string, number | null>
  /** Addresses asked for, without their queries. */
  asked: string[]
  /** Those of them that are charged to what the drafts unload. */
  stayed: string[]
  turn: number
}

/** Drafts tried on the real pages. */
export class RehearsalRow extends Model<InferAttributes<RehearsalRow>, InferCreationAttributes<RehearsalRow>> {
  declare id: CreationOptional<number>
  declare siteId: number
  declare what: string
  declare mode: RehearsalMode
  declare state: CreationOptional<RehearsalState>
  declare liveVersion: number
  declare liveRules: Rule[]
  declare drafts: Rule[]
  /** Add-on → its version when the rehearsal began. */
  declare versions: Record<string, string>
  /** Path → what was to be spared there, by measure. */
  declare prediction: Record<string, Record<string, number>>
  /** `live`: the rules are live already, and are seen as visitors see them. */
  declare mechanism: 'site' | 'rewriter' | 'live'
  /** Of one that throws out what breaks a guard: its round, and the rehearsal before. Null for any other. */
  declare best: CreationOptional<{ round: number; after: number | null } | null>
  /** Of one that is made for a retirement: its rules are nobody's drafts. */
  declare retirementId: CreationOptional<number | null>
  /** Of one that tries effects for this add-on: its rule is nobody's draft. */
  declare effectOf: CreationOptional<string | null>
  /** Of the guards that are played once a change is live. */
  declare deploymentId: CreationOptional<number | null>
  /** Guards played on the live site by themselves: it has no drafts, and its side without them is a round before. */
  declare isRound: CreationOptional<boolean>
  /** Of a round: what it saw is as it should be, and later ones are held against it. */
  declare sound: CreationOptional<boolean>
  /** Of a round: the newest one that it is held against. Null for the first. */
  declare against: CreationOptional<number | null>
  declare failure: CreationOptional<string | null>
  declare startedAt: CreationOptional<Date>
  declare finishedAt: CreationOptional<Date | null>
}

/** Those of the drafts, and of nothing else. */
export const OF_DRAFTS = { retirementId: null, effectOf: null, deploymentId: null, isRound: false }

/** One page of it, under one lens. */
export class RehearsalPageRow extends Model<
  InferAttributes<RehearsalPageRow>,
  InferCreationAttributes<RehearsalPageRow>
> {
  declare rehearsalId: number
  declare pageId: number
  declare lensId: number
  declare position: number
  declare state: CreationOptional<'waiting' | 'done' | 'failed'>
  declare failure: CreationOptional<string | null>
  declare readings: CreationOptional<RehearsedReading[]>
  declare guards: CreationOptional<GuardResult[]>
  declare boxes: CreationOptional<PictureChange['boxes']>
}

/** A difference that somebody accepts, for some drafts on one page. */
export class AcceptedRow extends Model<InferAttributes<AcceptedRow>, InferCreationAttributes<AcceptedRow>> {
  declare siteId: number
  declare pageId: number
  declare lensId: number
  /** Ids of the drafts that touch the page, sorted. */
  declare drafts: string
  declare guard: GuardName
  /** What was there to be accepted; anything beyond it is not. */
  declare said: Pick<GuardResult, 'guard' | 'gone' | 'came' | 'size'>
  declare note: string
  declare acceptedAt: CreationOptional<Date>
}

export function initialiseRehearsal(sequelize: Sequelize): void {
  RehearsalRow.init(
    {
      id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
      siteId: DataTypes.INTEGER,
      what: DataTypes.TEXT,
      mode: DataTypes.TEXT,
      state: DataTypes.TEXT,
      liveVersion: DataTypes.INTEGER,
      liveRules: DataTypes.JSONB,
      drafts: DataTypes.JSONB,
      versions: DataTypes.JSONB,
      prediction: DataTypes.JSONB,
      mechanism: DataTypes.TEXT,
      best: DataTypes.JSONB,
      retirementId: DataTypes.INTEGER,
      effectOf: DataTypes.TEXT,
      deploymentId: DataTypes.INTEGER,
      isRound: DataTypes.BOOLEAN,
      sound: DataTypes.BOOLEAN,
      against: DataTypes.INTEGER,
      failure: DataTypes.TEXT,
      startedAt: DataTypes.DATE,
      finishedAt: DataTypes.DATE,
    },
    { sequelize, tableName: 'rehearsal' },
  )
  RehearsalPageRow.init(
    {
      rehearsalId: { type: DataTypes.INTEGER, primaryKey: true },
      pageId: { type: DataTypes.INTEGER, primaryKey: true },
      lensId: { type: DataTypes.INTEGER, primaryKey: true },
      position: DataTypes.INTEGER,
      state: DataTypes.TEXT,
      failure: DataTypes.TEXT,
      readings: DataTypes.JSONB,
      guards: DataTypes.JSONB,
      boxes: DataTypes.JSONB,
    },
    { sequelize, tableName: 'rehearsal_page' },
  )
  AcceptedRow.init(
    {
      siteId: DataTypes.INTEGER,
      pageId: { type: DataTypes.INTEGER, primaryKey: true },
      lensId: { type: DataTypes.INTEGER, primaryKey: true },
      drafts: { type: DataTypes.TEXT, primaryKey: true },
      guard: { type: DataTypes.TEXT, primaryKey: true },
      said: DataTypes.JSONB,
      note: DataTypes.TEXT,
      acceptedAt: DataTypes.DATE,
    },
    { sequelize, tableName: 'accepted_difference' },
  )
}
