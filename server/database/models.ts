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
import type { DeliveryOutput } from '../../core/delivery'
import type { Patch, ShotOutline } from '../../core/shot'
import { defineWorkModels, type WorkModels } from '../work/models'
import { integer, json, text } from './columns'

export class ShotRow extends Model<InferAttributes<ShotRow>, InferCreationAttributes<ShotRow>> {
  /** random; the name is an ordinary field */
  declare id: CreationOptional<string>
  declare name: string
  /** where the shot file lies, absolute */
  declare folder: string
  /** the shot file that it was taken in from, absolute; null where that was not noted */
  declare file: CreationOptional<string | null>
  declare revision: number
  /** of any schema: read with `parseShot` */
  declare document: object
  /** of the document; null until the list asks for it */
  declare outline: CreationOptional<ShotOutline | null>
  /** who changed it last, as far as that is known */
  declare author: CreationOptional<string | null>
  /** put away: the list shows it when asked */
  declare archived: CreationOptional<boolean>
  /** it can be brought back; its name stays taken */
  declare removed: CreationOptional<boolean>
  declare updatedAt: CreationOptional<Date>
}

export class RevisionRow extends Model<InferAttributes<RevisionRow>, InferCreationAttributes<RevisionRow>> {
  declare shotId: string
  declare revision: number
  /** what the edit did, in words */
  declare label: string
  /** which browser tab made it */
  declare tab: string
  /** what the person who made it is called there; nobody is asked for proof */
  declare author: CreationOptional<string | null>
  /** by which that person is told from others */
  declare colour: CreationOptional<string | null>
  declare editId: CreationOptional<string | null>
  /** what somebody called the state after it */
  declare called: CreationOptional<string | null>
  /** the edit that it takes back, if it is an undo */
  declare undoes: CreationOptional<string | null>
  declare patches: Patch[]
  declare inverse: CreationOptional<Patch[] | null>
  /** the shot after the edit, of any schema; only every so many revisions have it */
  declare document: CreationOptional<object | null>
  declare createdAt: CreationOptional<Date>
}

/** What was asked for; how it goes on is told by the work with the same id. */
export class DeliveryRow extends Model<InferAttributes<DeliveryRow>, InferCreationAttributes<DeliveryRow>> {
  declare id: string
  declare shotId: string
  declare revision: number
  /** the shot as it was when the delivery was asked for; of any schema */
  declare document: object
  /** counted up for each shot */
  declare version: number
  declare first: number
  declare last: number
  declare scale: Scale
  declare outputs: readonly DeliveryOutput[]
  /** below the folder of deliveries */
  declare folder: string
  declare removed: CreationOptional<boolean>
  declare createdAt: CreationOptional<Date>
}

export interface Models extends WorkModels {
  readonly shots: ModelStatic<ShotRow>
  readonly revisions: ModelStatic<RevisionRow>
  readonly deliveries: ModelStatic<DeliveryRow>
}

// Sequelize writes into the descriptions it is given, so each column needs one of its own.

export function defineModels(sequelize: Sequelize): Models {
  ShotRow.init(
    {
      id: { type: DataTypes.UUID, primaryKey: true, defaultValue: DataTypes.UUIDV4 },
      name: text(),
      folder: text(),
      file: DataTypes.TEXT,
      revision: integer(),
      document: json(),
      outline: DataTypes.JSONB,
      author: DataTypes.TEXT,
      archived: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
      removed: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
      updatedAt: DataTypes.DATE,
    },
    { sequelize, tableName: 'shots', createdAt: false },
  )
  RevisionRow.init(
    {
      shotId: { type: DataTypes.UUID, primaryKey: true },
      revision: { ...integer(), primaryKey: true },
      label: text(),
      tab: text(),
      author: DataTypes.TEXT,
      colour: DataTypes.TEXT,
      called: DataTypes.TEXT,
      editId: DataTypes.TEXT,
      undoes: DataTypes.TEXT,
      patches: json(),
      inverse: DataTypes.JSONB,
      document: DataTypes.JSONB,
      createdAt: DataTypes.DATE,
    },
    { sequelize, tableName: 'revisions', updatedAt: false },
  )
  DeliveryRow.init(
    {
      id: { type: DataTypes.UUID, primaryKey: true },
      shotId: { type: DataTypes.UUID, allowNull: false },
      revision: integer(),
      document: json(),
      version: integer(),
      first: integer(),
      last: integer(),
      scale: integer(),
      outputs: json(),
      folder: text(),
      removed: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
      createdAt: DataTypes.DATE,
    },
    { sequelize, tableName: 'deliveries', updatedAt: false },
  )
  return { shots: ShotRow, revisions: RevisionRow, deliveries: DeliveryRow, ...defineWorkModels(sequelize) }
}
