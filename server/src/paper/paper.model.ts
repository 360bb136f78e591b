import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { Paper } from '@unvelt/contract'

export class PaperRow extends Model<InferAttributes<PaperRow>, InferCreationAttributes<PaperRow>> {
  declare id: CreationOptional<number>
  declare siteId: number
  declare title: string
  /** Emptied once it is printed. */
  declare html: string
  declare state: CreationOptional<Paper['state']>
  declare why: CreationOptional<string | null>
  declare pdf: CreationOptional<Buffer | null>
  declare askedAt: CreationOptional<Date>
}

export function initialisePaper(sequelize: Sequelize): void {
  PaperRow.init(
    {
      id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
      siteId: DataTypes.INTEGER,
      title: DataTypes.TEXT,
      html: DataTypes.TEXT,
      state: DataTypes.TEXT,
      why: DataTypes.TEXT,
      pdf: DataTypes.BLOB,
      askedAt: DataTypes.DATE,
    },
    { sequelize, tableName: 'paper' },
  )
}

/** @param waits Why nobody prints it at the moment. */
export const paperView = ({ id, title, state, why, askedAt }: PaperRow, waits: string | null = null): Paper => ({
  id,
  title,
  state: state ?? 'printing',
  why: why ?? (state === 'printing' ? waits : null),
  askedAt: askedAt.toISOString(),
})
