/**
 * npm run bench: brings what is missing, then measures. `--json FILE` also writes the rows; `--against COMMIT` measures this
 * build and another in turns (bench-against.mjs).
 */

import { execFileSync, spawnSync } from 'node:child_process'
import { resolve } from 'node:path'
import { parseArgs } from 'node:util'
import { benchAgainst } from './bench-against.mjs'
import { needBuild, needDebianPackages, needNodeModules } from './packages.mjs'
import { startPostgres } from './postgres.mjs'

needDebianPackages(['postgresql', 'chromium', 'ffmpeg', 'python3-opencv', 'opencv-doc'])
needNodeModules()
needBuild()
execFileSync('npx', ['--no-install', 'vite', 'build', '--config', 'vite.bench.config.ts'], {
  stdio: ['ignore', 'ignore', 'inherit'],
})
execFileSync(process.execPath, ['dist/node/standin.mjs', '--media', '.data/media', '--truth', '.data/truth'], {
  stdio: 'inherit',
})
execFileSync(
  process.execPath,
  [
    'dist/node/standin.mjs',
    ...[
      '--media',
      '.data/bench-1080/media',
      '--truth',
      '.data/bench-1080/truth',
      '--size',
      '1920x1080',
      '--frames',
      '2',
    ],
  ],
  { stdio: 'inherit' },
)
execFileSync(
  process.execPath,
  [
    'dist/node/standin.mjs',
    ...[
      '--media',
      '.data/bench-small/media',
      '--truth',
      '.data/bench-small/truth',
      '--size',
      '640x360',
      '--frames',
      '6',
    ],
  ],
  { stdio: 'inherit' },
)
const postgres = await startPostgres(resolve('.data/bench-postgres'), { lasting: false })
try {
  const options = {
    json: { type: 'string' },
    only: { type: 'string' },
    against: { type: 'string' },
    times: { type: 'string', default: '7' },
  }
  const { json, only, against, times } = parseArgs({ options }).values
  const chosen = [
    ['--json', json],
    ['--only', only],
  ].flatMap(([name, value]) => (value === undefined ? [] : [name, value]))
  const env = { ...process.env, ENKRASIS_BENCH_DATABASE: postgres.url }
  process.exitCode =
    against === undefined
      ? (spawnSync(process.execPath, ['dist/node/bench.mjs', ...chosen], { stdio: 'inherit', env }).status ?? 1)
      : benchAgainst(against, { only, times: Number(times) }, postgres.url)
        ? 0
        : 1
} finally {
  await postgres.stop()
}
