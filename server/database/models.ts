/** The tables as Sequelize models. */

import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type ModelStatic,
  type Sequelize,
} from 'sequelize'
import type { Scale } from '../../core/graph/steps'
import type { Patch, Shot } from '../../core/shot'

export class ShotRow extends Model<InferAttributes<ShotRow>, InferCreationAttributes<ShotRow>> {
  declare name: string
  /** where the shot file lies, absolute */
  declare folder: string
  declare revision: number
  declare document: Shot
  declare updatedAt: CreationOptional<Date>
}

export class RevisionRow extends Model<InferAttributes<RevisionRow>, InferCreationAttributes<RevisionRow>> {
  declare shotName: string
  declare revision: number
  /** what the edit did, in words */
  declare label: string
  /** which browser tab made it */
  declare tab: string
  declare patches: Patch[]
  /** the shot after the edit */
  declare document: Shot
  declare createdAt: CreationOptional<Date>
}

export class DeliveryRow extends Model<InferAttributes<DeliveryRow>, InferCreationAttributes<DeliveryRow>> {
  declare id: string
  declare shotName: string
  declare revision: number
  /** the shot as it was when the delivery was asked for */
  declare document: Shot
  declare first: number
  declare last: number
  declare scale: Scale
  declare folder: string
  declare cancelled: CreationOptional<boolean>
  declare createdAt: CreationOptional<Date>
  declare finishedAt: CreationOptional<Date | null>
}

export type FrameState = 'waiting' | 'rendering' | 'done' | 'failed' | 'cancelled'

export class DeliveryFrameRow extends Model<
  InferAttributes<DeliveryFrameRow>,
  InferCreationAttributes<DeliveryFrameRow>
> {
  declare deliveryId: string
  declare frame: number
  declare state: FrameState
  declare error: CreationOptional<string | null>
  /** the server that is rendering it */
  declare worker: CreationOptional<string | null>
  declare queueJob: CreationOptional<string | null>
}

export interface Models {
  readonly shots: ModelStatic<ShotRow>
  readonly revisions: ModelStatic<RevisionRow>
  readonly deliveries: ModelStatic<DeliveryRow>
  readonly frames: ModelStatic<DeliveryFrameRow>
}

// Sequelize writes into the descriptions it is given, so each column needs one of its own.
const text = () => ({ type: DataTypes.TEXT, allowNull: false })
const whole = () => ({ type: DataTypes.INTEGER, allowNull: false })
const json = () => ({ type: DataTypes.JSONB, allowNull: false })

export function defineModels(sequelize: Sequelize): Models {
  ShotRow.init(
    {
      name: { ...text(), primaryKey: true },
      folder: text(),
      revision: whole(),
      document: json(),
      updatedAt: DataTypes.DATE,
    },
    { sequelize, tableName: 'shots', createdAt: false },
  )
  RevisionRow.init(
    {
      shotName: { ...text(), primaryKey: true },
      revision: { ...whole(), primaryKey: true },
      label: text(),
      tab: text(),
      patches: json(),
      document: json(),
      createdAt: DataTypes.DATE,
    },
    { sequelize, tableName: 'revisions', updatedAt: false },
  )
  DeliveryRow.init(
    {
      id: { type: DataTypes.UUID, primaryKey: true },
      shotName: text(),
      revision: whole(),
      document: json(),
      first: whole(),
      last: whole(),
      scale: whole(),
      folder: text(),
      cancelled: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
      createdAt: DataTypes.DATE,
      finishedAt: DataTypes.DATE,
    },
    { sequelize, tableName: 'deliveries', updatedAt: false },
  )
  DeliveryFrameRow.init(
    {
      deliveryId: { type: DataTypes.UUID, primaryKey: true },
      frame: { ...whole(), primaryKey: true },
      state: text(),
      error: DataTypes.TEXT,
      worker: DataTypes.TEXT,
      queueJob: DataTypes.UUID,
    },
    { sequelize, tableName: 'delivery_frames', timestamps: false },
  )
  return { shots: ShotRow, revisions: RevisionRow, deliveries: DeliveryRow, frames: DeliveryFrameRow }
}
