import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { Step } from '@unvelt/core'
import type { QuietTimes } from '@unvelt/core'
import type { ConnectorDescription, HostAddress, Net } from '@unvelt/contract'
import type { PinnedCertificate } from '../site-http/site-way.js'

export class SiteRow extends Model<InferAttributes<SiteRow>, InferCreationAttributes<SiteRow>> {
  declare id: CreationOptional<number>
  declare address: string
  /** Whether it may reach this machine and private networks. */
  declare local: boolean
  /** Share of a figure below which a difference is too small to matter. */
  declare leastDifference: CreationOptional<number>
  declare quiet: CreationOptional<QuietTimes>
  /** So many sweeps a lens are kept in full; all of them where nothing is said. */
  declare keepFull: CreationOptional<number | null>
  /** What comes of a guard that fails once a change is live. */
  declare net: CreationOptional<Net>
  declare name: string
  declare cms: { name: string; version: string }
  /** Null where the site has none and is looked at from outside only. */
  declare connector: ConnectorDescription | null
  /** Where its pages are known from. */
  declare pagesFrom: CreationOptional<'connector' | 'sitemap' | 'links'>
  /** Sealed; see secret-box.ts. */
  declare connectorKey: string | null
  /** What it lets Unvelt in by where it is closed to the public: sealed, see site-access.ts. */
  declare access: CreationOptional<string | null>
  /** The certificate that is taken for it though no browser would take it. */
  declare certificate: CreationOptional<PinnedCertificate | null>
  /** Names that lead elsewhere for it than DNS says. */
  declare hosts: CreationOptional<HostAddress[]>
  declare copyOf: CreationOptional<number | null>
  declare ownHosts: string[]
  declare folders: { prefix: string; payer: string }[]
  declare assetRegister: Record<string, string>
  /** What is done on its pages after their timing; null while it is what is done anywhere. */
  declare steps: CreationOptional<Step[] | null>
  declare createdAt: CreationOptional<Date>
}

export function initialiseSite(sequelize: Sequelize): void {
  SiteRow.init(
    {
      id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
      address: DataTypes.TEXT,
      local: DataTypes.BOOLEAN,
      leastDifference: DataTypes.DOUBLE,
      quiet: DataTypes.JSONB,
      keepFull: DataTypes.INTEGER,
      net: DataTypes.TEXT,
      name: DataTypes.TEXT,
      cms: DataTypes.JSONB,
      connector: DataTypes.JSONB,
      connectorKey: DataTypes.TEXT,
      pagesFrom: DataTypes.TEXT,
      access: DataTypes.TEXT,
      certificate: DataTypes.JSONB,
      hosts: DataTypes.JSONB,
      copyOf: DataTypes.INTEGER,
      ownHosts: DataTypes.ARRAY(DataTypes.TEXT),
      folders: DataTypes.JSONB,
      assetRegister: DataTypes.JSONB,
      steps: DataTypes.JSONB,
      createdAt: DataTypes.DATE,
    },
    { sequelize, tableName: 'site' },
  )
}
