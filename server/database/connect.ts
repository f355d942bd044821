/** The connection to PostgreSQL, and the tables, made by migrations in order. */

import { DataTypes, Sequelize, type QueryInterface } from 'sequelize'
import { SequelizeStorage, Umzug } from 'umzug'

export function connect(url: string): Sequelize {
  return new Sequelize(url, { dialect: 'postgres', logging: false, pool: { max: 8 } })
}

const migrations = [
  {
    name: '0001-shots-and-revisions',
    async up({ context }: { context: QueryInterface }) {
      await context.createTable('shots', {
        name: { type: DataTypes.STRING(64), primaryKey: true },
        folder: { type: DataTypes.TEXT, allowNull: false },
        revision: { type: DataTypes.INTEGER, allowNull: false },
        document: { type: DataTypes.JSONB, allowNull: false },
        updatedAt: { type: DataTypes.DATE, allowNull: false },
      })
      await context.createTable('revisions', {
        shotName: {
          type: DataTypes.STRING(64),
          primaryKey: true,
          references: { model: 'shots', key: 'name' },
          onDelete: 'CASCADE',
        },
        revision: { type: DataTypes.INTEGER, primaryKey: true },
        label: { type: DataTypes.TEXT, allowNull: false },
        tab: { type: DataTypes.TEXT, allowNull: false },
        patches: { type: DataTypes.JSONB, allowNull: false },
        document: { type: DataTypes.JSONB, allowNull: false },
        createdAt: { type: DataTypes.DATE, allowNull: false },
      })
    },
  },
  {
    name: '0002-deliveries',
    async up({ context }: { context: QueryInterface }) {
      await context.createTable('deliveries', {
        id: { type: DataTypes.UUID, primaryKey: true },
        shotName: {
          type: DataTypes.STRING(64),
          allowNull: false,
          references: { model: 'shots', key: 'name' },
          onDelete: 'CASCADE',
        },
        revision: { type: DataTypes.INTEGER, allowNull: false },
        document: { type: DataTypes.JSONB, allowNull: false },
        first: { type: DataTypes.INTEGER, allowNull: false },
        last: { type: DataTypes.INTEGER, allowNull: false },
        scale: { type: DataTypes.INTEGER, allowNull: false },
        folder: { type: DataTypes.TEXT, allowNull: false },
        cancelled: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
        createdAt: { type: DataTypes.DATE, allowNull: false },
        finishedAt: { type: DataTypes.DATE, allowNull: true },
      })
      await context.createTable('delivery_frames', {
        deliveryId: {
          type: DataTypes.UUID,
          primaryKey: true,
          references: { model: 'deliveries', key: 'id' },
          onDelete: 'CASCADE',
        },
        frame: { type: DataTypes.INTEGER, primaryKey: true },
        state: { type: DataTypes.STRING(16), allowNull: false },
        error: { type: DataTypes.TEXT, allowNull: true },
        worker: { type: DataTypes.TEXT, allowNull: true },
        queueJob: { type: DataTypes.UUID, allowNull: true },
      })
    },
  },
]

/** Brings the tables up to date; safe to run at every start. */
export async function migrate(sequelize: Sequelize): Promise<void> {
  const umzug = new Umzug({
    migrations,
    context: sequelize.getQueryInterface(),
    storage: new SequelizeStorage({ sequelize }),
    logger: undefined,
  })
  await umzug.up()
}
