import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'

export class ProofRow extends Model<InferAttributes<ProofRow>, InferCreationAttributes<ProofRow>> {
  declare id: CreationOptional<number>
  declare siteId: number
  declare sweepId: number
  declare title: string
  declare fromVersion: number
  declare toVersion: number
  /** Page path → measure → what was to be spared there; null where nothing was promised. */
  declare prediction: CreationOptional<Record<string, Record<string, number>> | null>
  declare createdAt: CreationOptional<Date>
}

export function initialiseProof(sequelize: Sequelize): void {
  ProofRow.init(
    {
      id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
      siteId: DataTypes.INTEGER,
      sweepId: DataTypes.INTEGER,
      title: DataTypes.TEXT,
      fromVersion: DataTypes.INTEGER,
      toVersion: DataTypes.INTEGER,
      prediction: DataTypes.JSONB,
      createdAt: DataTypes.DATE,
    },
    { sequelize, tableName: 'proof' },
  )
}
