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

/**
 * All long work is in one place. Deliveries keep what was asked for; how their frames stand is told by their work. They are
 * numbered for each shot, in the order in which they were asked for. Folders are kept as they were, absolute as they may be.
 */
const oneKindOfWork = [
  `CREATE TABLE work (id UUID PRIMARY KEY, kind TEXT NOT NULL, key TEXT NOT NULL, "shotId" UUID NULL REFERENCES shots (id) ON DELETE CASCADE,
     title TEXT NOT NULL, author TEXT NULL, input JSONB NOT NULL, build TEXT NOT NULL, state TEXT NOT NULL DEFAULT 'open',
     "createdAt" TIMESTAMPTZ NOT NULL, "startedAt" TIMESTAMPTZ NULL, "finishedAt" TIMESTAMPTZ NULL)`,
  `CREATE TABLE work_items ("workId" UUID NOT NULL REFERENCES work (id) ON DELETE CASCADE, number INTEGER NOT NULL,
     last BOOLEAN NOT NULL DEFAULT false, state TEXT NOT NULL DEFAULT 'waiting', attempt INTEGER NOT NULL DEFAULT 0,
     worker TEXT NULL, lease TIMESTAMPTZ NULL, "notBefore" TIMESTAMPTZ NULL, tries INTEGER NOT NULL DEFAULT 0,
     progress REAL NOT NULL DEFAULT 0, error TEXT NULL, result JSONB NULL, PRIMARY KEY ("workId", number))`,
  `CREATE TABLE work_wishes ("workId" UUID NOT NULL REFERENCES work (id) ON DELETE CASCADE, wisher TEXT NOT NULL,
     PRIMARY KEY ("workId", wisher))`,
  `CREATE INDEX work_by_key ON work (key)`,
  `CREATE INDEX work_open ON work ("createdAt") WHERE state = 'open'`,
  `CREATE INDEX work_items_open ON work_items ("workId", number) WHERE state IN ('waiting', 'running')`,
  `CREATE INDEX work_items_by_worker ON work_items (worker) WHERE state = 'running'`,
  `ALTER TABLE deliveries ADD COLUMN version INTEGER, ADD COLUMN outputs JSONB, ADD COLUMN removed BOOLEAN NOT NULL DEFAULT false`,
  `UPDATE deliveries SET version = numbered.version FROM (
     SELECT id, row_number() OVER (PARTITION BY "shotId" ORDER BY "createdAt", id) AS version FROM deliveries) numbered
   WHERE numbered.id = deliveries.id`,
  `UPDATE deliveries SET outputs = jsonb_build_array(jsonb_build_object('of', jsonb_build_object('what', 'composite'),
     'name', 'comp', 'pattern', '{shot}_comp.{frame}', 'format', 'exr', 'encoding', 'linear', 'compression', 'zip',
     'samples', samples, 'window', 'frame'))`,
  `INSERT INTO work (id, kind, key, "shotId", title, input, build, state, "createdAt", "startedAt", "finishedAt")
     SELECT d.id, 'delivery', 'delivery ' || d.id, d."shotId", shots.name || ', ' || d.first || ' to ' || d.last,
       jsonb_build_object('delivery', d.id), 'an earlier program',
       CASE WHEN d.cancelled THEN 'cancelled' WHEN d."finishedAt" IS NULL THEN 'open'
         WHEN EXISTS (SELECT 1 FROM delivery_frames f WHERE f."deliveryId" = d.id AND f.state = 'failed') THEN 'failed' ELSE 'done' END,
       d."createdAt", d."createdAt", d."finishedAt"
     FROM deliveries d JOIN shots ON shots.id = d."shotId"`,
  `INSERT INTO work_items ("workId", number, state, error, result)
     SELECT f."deliveryId", f.frame, CASE WHEN f.state = 'rendering' THEN 'waiting' ELSE f.state END, f.error,
       CASE WHEN f.state = 'done' THEN jsonb_build_object('clamped', f.clamped, 'bytes', 0) END
     FROM delivery_frames f JOIN work ON work.id = f."deliveryId"`,
  `INSERT INTO work_wishes SELECT id, 'delivery ' || id FROM work`,
  `DROP TABLE delivery_frames`,
  `ALTER TABLE deliveries ALTER COLUMN version SET NOT NULL, ALTER COLUMN outputs SET NOT NULL, ADD UNIQUE ("shotId", version),
     DROP COLUMN samples, DROP COLUMN cancelled, DROP COLUMN "finishedAt"`,
  `DROP SCHEMA IF EXISTS pgboss CASCADE`,
]

/** The list of shots is told from outlines, without reading documents; shots can be put away and removed, and brought back. */
const listOfShots = [
  `ALTER TABLE shots ADD COLUMN outline JSONB, ADD COLUMN author TEXT, ADD COLUMN archived BOOLEAN NOT NULL DEFAULT false,
     ADD COLUMN removed BOOLEAN NOT NULL DEFAULT false`,
]

/** States of a shot can have names. */
const namedRevisions = [`ALTER TABLE revisions ADD COLUMN called TEXT`]

/** Who changes something has a colour beside the name. */
const coloursOfPeople = [`ALTER TABLE revisions ADD COLUMN colour TEXT`]

const statements = (name: string, all: readonly string[]) => ({
  name,
  async up({ context }: { context: QueryInterface }) {
    await context.sequelize.transaction(async (transaction) => {
      for (const statement of all) await context.sequelize.query(statement, { transaction })
    })
  },
})

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
  statements('0003-shots-by-id', shotsById),
  statements('0004-one-kind-of-work', oneKindOfWork),
  statements('0005-list-of-shots', listOfShots),
  statements('0006-named-revisions', namedRevisions),
  statements('0007-colours-of-people', coloursOfPeople),
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
