/** The tables of long work. They are the truth of what is to be done, what is done, and by whom. */

import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type ModelStatic,
  type Sequelize,
} from 'sequelize'
import type { WorkKindName } from '../../core/work'
import { text } from '../database/columns'

export class WorkRow extends Model<InferAttributes<WorkRow>, InferCreationAttributes<WorkRow>> {
  declare id: string
  declare kind: WorkKindName
  /** equal key, equal result: who wishes for it as well shares it */
  declare key: string
  declare shotId: CreationOptional<string | null>
  declare title: string
  declare author: CreationOptional<string | null>
  declare input: object
  /** hash of the program that may do it */
  declare build: string
  declare state: CreationOptional<'open' | 'done' | 'failed' | 'cancelled'>
  declare createdAt: CreationOptional<Date>
  declare startedAt: CreationOptional<Date | null>
  declare finishedAt: CreationOptional<Date | null>
}

export type ItemState = 'waiting' | 'running' | 'done' | 'failed' | 'cancelled'

export class WorkItemRow extends Model<InferAttributes<WorkItemRow>, InferCreationAttributes<WorkItemRow>> {
  declare workId: string
  declare number: number
  /** begun when all others are done */
  declare last: CreationOptional<boolean>
  declare state: CreationOptional<ItemState>
  /** counted up each time somebody takes it; a result counts only for the present attempt */
  declare attempt: CreationOptional<number>
  /** who has it, until when, by the database's clock */
  declare worker: CreationOptional<string | null>
  declare lease: CreationOptional<Date | null>
  /** not to be taken before */
  declare notBefore: CreationOptional<Date | null>
  /** failures that may have been passing ones */
  declare tries: CreationOptional<number>
  declare progress: CreationOptional<number>
  declare error: CreationOptional<string | null>
  declare result: CreationOptional<object | null>
}

/** Somebody wants the work done. Work that nobody wishes for any more is called off. */
export class WorkWishRow extends Model<InferAttributes<WorkWishRow>, InferCreationAttributes<WorkWishRow>> {
  declare workId: string
  declare wisher: string
}

export interface WorkModels {
  readonly work: ModelStatic<WorkRow>
  readonly items: ModelStatic<WorkItemRow>
  readonly wishes: ModelStatic<WorkWishRow>
}

export function defineWorkModels(sequelize: Sequelize): WorkModels {
  WorkRow.init(
    {
      id: { type: DataTypes.UUID, primaryKey: true },
      kind: text(),
      key: text(),
      shotId: DataTypes.UUID,
      title: text(),
      author: DataTypes.TEXT,
      input: { type: DataTypes.JSONB, allowNull: false },
      build: text(),
      state: { ...text(), defaultValue: 'open' },
      createdAt: DataTypes.DATE,
      startedAt: DataTypes.DATE,
      finishedAt: DataTypes.DATE,
    },
    { sequelize, tableName: 'work', updatedAt: false },
  )
  WorkItemRow.init(
    {
      workId: { type: DataTypes.UUID, primaryKey: true },
      number: { type: DataTypes.INTEGER, primaryKey: true },
      last: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
      state: { ...text(), defaultValue: 'waiting' },
      attempt: { type: DataTypes.INTEGER, allowNull: false, defaultValue: 0 },
      worker: DataTypes.TEXT,
      lease: DataTypes.DATE,
      notBefore: DataTypes.DATE,
      tries: { type: DataTypes.INTEGER, allowNull: false, defaultValue: 0 },
      progress: { type: DataTypes.REAL, allowNull: false, defaultValue: 0 },
      error: DataTypes.TEXT,
      result: DataTypes.JSONB,
    },
    { sequelize, tableName: 'work_items', timestamps: false },
  )
  WorkWishRow.init(
    { workId: { type: DataTypes.UUID, primaryKey: true }, wisher: { ...text(), primaryKey: true } },
    { sequelize, tableName: 'work_wishes', timestamps: false },
  )
  return { work: WorkRow, items: WorkItemRow, wishes: WorkWishRow }
}
