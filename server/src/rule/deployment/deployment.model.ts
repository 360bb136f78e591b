import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { Rule } from '@unvelt/core'
import type { Deployment, DeploymentState, DeploymentStep, Net, ReadAgain } from '@unvelt/contract'
import type { DraftRule } from '../merge-rules.js'

/** What goes live first, and how far that is. */
export interface Parts {
  at: 'first' | 'rest'
  pageIds: number[]
  /** By which the first pages are what is to be, and the others what they were. */
  rules: Rule[]
  /** That the site gave the first part; null before. */
  version: number | null
}

/** What is sent to the site now, and in the place of what. */
export const atHand = ({ parts, fromVersion, toRules }: DeploymentRow): { rules: Rule[]; replaces: number } =>
  parts?.at === 'first'
    ? { rules: parts.rules, replaces: fromVersion }
    : { rules: toRules, replaces: parts?.version ?? fromVersion }

/** A change of the live rules, as far as it has come. */
export class DeploymentRow extends Model<InferAttributes<DeploymentRow>, InferCreationAttributes<DeploymentRow>> {
  declare id: CreationOptional<number>
  declare siteId: number
  declare what: string
  declare kind: Deployment['kind']
  declare fromVersion: number
  declare toVersion: CreationOptional<number | null>
  declare fromRules: Rule[]
  declare toRules: Rule[]
  /** Drafts that it makes live, which are none any more then. */
  declare draftIds: string[]
  /** These, as they were; if it is taken back they are drafts again. */
  declare drafts: CreationOptional<DraftRule[]>
  /** Page path → measure → what they were to spare there. */
  declare prediction: CreationOptional<Record<string, Record<string, number>> | null>
  declare state: DeploymentState
  declare steps: CreationOptional<DeploymentStep[]>
  declare failure: CreationOptional<string | null>
  declare proofId: CreationOptional<number | null>
  declare netId: CreationOptional<number | null>
  declare options: { readAgain: ReadAgain; unrehearsed?: string; net?: Net; putOff?: number }
  /** Where it goes live in parts. */
  declare parts: CreationOptional<Parts | null>
  declare startedAt: CreationOptional<Date>
  declare finishedAt: CreationOptional<Date | null>
}

export function initialiseDeployment(sequelize: Sequelize): void {
  DeploymentRow.init(
    {
      id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
      siteId: DataTypes.INTEGER,
      what: DataTypes.TEXT,
      kind: DataTypes.TEXT,
      fromVersion: DataTypes.INTEGER,
      toVersion: DataTypes.INTEGER,
      fromRules: DataTypes.JSONB,
      toRules: DataTypes.JSONB,
      draftIds: DataTypes.JSONB,
      drafts: DataTypes.JSONB,
      prediction: DataTypes.JSONB,
      state: DataTypes.TEXT,
      steps: DataTypes.JSONB,
      failure: DataTypes.TEXT,
      proofId: DataTypes.INTEGER,
      netId: DataTypes.INTEGER,
      options: DataTypes.JSONB,
      parts: DataTypes.JSONB,
      startedAt: DataTypes.DATE,
      finishedAt: DataTypes.DATE,
    },
    { sequelize, tableName: 'deployment' },
  )
}

export const deploymentView = (row: DeploymentRow): Deployment => ({
  id: row.id,
  siteId: row.siteId,
  what: row.what,
  kind: row.kind,
  state: row.state,
  fromVersion: row.fromVersion,
  toVersion: row.toVersion,
  steps: row.steps,
  failure: row.failure,
  proofId: row.proofId,
  net: row.options.net ?? 'off',
  netId: row.netId,
  parts: row.parts ? { firstPages: row.parts.pageIds.length, at: row.parts.at } : null,
  startedAt: row.startedAt.toISOString(),
  finishedAt: row.finishedAt?.toISOString() ?? null,
})
