/** The connection to PostgreSQL, and the tables, made by migrations in order. */

import { DataTypes, Sequelize, type QueryInterface } from 'sequelize'
import { SequelizeStorage, Umzug } from 'umzug'

export function connect(url: string): Sequelize {
  return new Sequelize(url, { dialect: 'postgres', logging: false, pool: { max: 8 } })
}

/**
 * A shot is known by a random id, so that it can be renamed. Revisions name the edit that made them, and hold a whole
 * document only now and then. What was handed off is delivered now.
 */
const shotsById = [
  `ALTER TABLE shots ADD COLUMN id UUID NOT NULL DEFAULT gen_random_uuid(), ADD COLUMN file TEXT NULL`,
  `ALTER TABLE revisions ADD COLUMN "shotId" UUID, ADD COLUMN inverse JSONB, ADD COLUMN "editId" VARCHAR(64),
     ADD COLUMN undoes VARCHAR(64), ADD COLUMN author TEXT, ALTER COLUMN document DROP NOT NULL`,
  `UPDATE revisions SET "shotId" = shots.id FROM shots WHERE shots.name = revisions."shotName"`,
  `ALTER TABLE handoffs ADD COLUMN "shotId" UUID, ADD COLUMN samples VARCHAR(16) NOT NULL DEFAULT 'half'`,
  `UPDATE handoffs SET "shotId" = shots.id FROM shots WHERE shots.name = handoffs."shotName"`,
  `ALTER TABLE revisions DROP CONSTRAINT revisions_pkey, DROP COLUMN "shotName", ALTER COLUMN "shotId" SET NOT NULL`,
  `ALTER TABLE handoffs DROP COLUMN "shotName", ALTER COLUMN "shotId" SET NOT NULL`,
  `ALTER TABLE shots DROP CONSTRAINT shots_pkey, ADD PRIMARY KEY (id), ADD UNIQUE (name)`,
  `ALTER TABLE revisions ADD PRIMARY KEY ("shotId", revision), ADD UNIQUE ("shotId", "editId"),
     ADD FOREIGN KEY ("shotId") REFERENCES shots (id) ON DELETE CASCADE`,
  `ALTER TABLE handoffs ADD FOREIGN KEY ("shotId") REFERENCES shots (id) ON DELETE CASCADE`,
  `ALTER TABLE handoffs RENAME TO deliveries`,
  `ALTER TABLE handoff_frames RENAME TO delivery_frames`,
  `ALTER TABLE delivery_frames RENAME COLUMN "handoffId" TO "deliveryId"`,
  `ALTER TABLE delivery_frames ADD COLUMN clamped INTEGER NOT NULL DEFAULT 0`,
  `CREATE INDEX delivery_frames_by_state ON delivery_frames ("deliveryId", state)`,
]

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
    name: '0002-handoffs',
    async up({ context }: { context: QueryInterface }) {
      await context.createTable('handoffs', {
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
      await context.createTable('handoff_frames', {
        handoffId: {
          type: DataTypes.UUID,
          primaryKey: true,
          references: { model: 'handoffs', key: 'id' },
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
  {
    name: '0003-shots-by-id',
    async up({ context }: { context: QueryInterface }) {
      await context.sequelize.transaction(async (transaction) => {
        for (const statement of shotsById) await context.sequelize.query(statement, { transaction })
      })
    },
  },
]

/** Any number that no other program's locks on this database use. */
const migrationLock = 7_015_832

/**
 * Makes the tables and brings them up to date; safe at every start, also of several servers at once: one does it, the others
 * wait.
 *
 * @param to the last step that is made; all of them when it is left out
 */
export async function migrate(sequelize: Sequelize, to?: string): Promise<void> {
  const umzug = new Umzug({
    migrations,
    context: sequelize.getQueryInterface(),
    storage: new SequelizeStorage({ sequelize }),
    logger: undefined,
  })
  await sequelize.transaction(async (transaction) => {
    await sequelize.query(`SELECT pg_advisory_xact_lock(${migrationLock})`, { transaction })
    await umzug.up(to === undefined ? undefined : { to })
  })
}
