/** `enkrasis export`: the shot file of a shot in the database. */

import { readFileSync } from 'node:fs'
import { resolve } from 'node:path'
import { connect } from '../database/connect'
import { defineModels } from '../database/models'
import { writeWhole } from '../delivery/write-whole'
import { ShotStore } from '../shots/shot-store'

export async function exportShot(name: string, { out }: { out?: string }): Promise<void> {
  const url = process.env.ENKRASIS_DATABASE ?? databaseOfTheDemo()
  const sequelize = connect(url)
  try {
    const store = new ShotStore(sequelize, defineModels(sequelize))
    const row = await store.findByName(name)
    const path = resolve(out ?? `${row.folder}/${name}.shot.json`)
    await writeWhole(path, `${JSON.stringify(store.documentOf(row), null, 2)}\n`)
    console.log(`${path} (revision ${row.revision})`)
  } finally {
    await sequelize.close()
  }
}

/** The demo writes down where its database answers. */
function databaseOfTheDemo(): string {
  try {
    return (JSON.parse(readFileSync('.data/running.json', 'utf8')) as { database: string }).database
  } catch {
    throw new Error(
      'No database is known. Set ENKRASIS_DATABASE, or start the demo with "npm run demo" and run this in its folder.',
    )
  }
}
