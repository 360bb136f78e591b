import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { ServerTimingEntry, WeighFigures } from '@unvelt/core'

export class ReadingRow extends Model<InferAttributes<ReadingRow>, InferCreationAttributes<ReadingRow>> {
  declare id: CreationOptional<string>
  declare sweepId: number
  declare pageId: number
  declare variant: string
  declare repeat: number
  /** Why there is no reading. */
  declare failure: string | null
  declare requests: number | null
  declare transferBytes: number | null
  declare decodedBytes: number | null
  declare serverMs: number | null
  declare queries: number | null
  declare queryMs: number | null
  declare loadMs: number | null
  /** What it is weighed by, where variants are compared. */
  declare figures: CreationOptional<WeighFigures | null>
  /** The reading, or the readings of all repeats, see `reading-pack.ts`. */
  declare detail: Buffer | null
  /** The repeat whose row has the reading of this one too. */
  declare detailIn: CreationOptional<number | null>
  /** Of the request for the page, where its site was asked for spans. */
  declare traceId: CreationOptional<string | null>
  /** What its spans tell of the server, where the page itself told nothing. */
  declare spanTiming: CreationOptional<ServerTimingEntry[] | null>
  /** Spans have come that nobody has looked at. */
  declare spansWait: CreationOptional<boolean>
  declare readAt: CreationOptional<Date>
}

export function initialiseReading(sequelize: Sequelize): void {
  ReadingRow.init(
    {
      id: { type: DataTypes.BIGINT, primaryKey: true, autoIncrement: true },
      sweepId: DataTypes.INTEGER,
      pageId: DataTypes.INTEGER,
      variant: DataTypes.TEXT,
      repeat: DataTypes.INTEGER,
      failure: DataTypes.TEXT,
      requests: DataTypes.INTEGER,
      transferBytes: bigNumber('transferBytes'),
      decodedBytes: bigNumber('decodedBytes'),
      serverMs: DataTypes.DOUBLE,
      queries: DataTypes.INTEGER,
      queryMs: DataTypes.DOUBLE,
      loadMs: DataTypes.DOUBLE,
      figures: DataTypes.JSONB,
      detail: DataTypes.BLOB,
      detailIn: DataTypes.INTEGER,
      traceId: DataTypes.TEXT,
      spanTiming: DataTypes.JSONB,
      spansWait: DataTypes.BOOLEAN,
      readAt: DataTypes.DATE,
    },
    { sequelize, tableName: 'reading' },
  )
}

/** PostgreSQL's bigint comes as text; byte counts fit a number well. */
function bigNumber(name: 'transferBytes' | 'decodedBytes') {
  return {
    type: DataTypes.BIGINT,
    get(this: ReadingRow): number | null {
      const value = this.getDataValue(name) as unknown
      return value === null || value === undefined ? null : Number(value)
    },
  }
}
