/** npm run bench: brings what is missing, then measures. `--json FILE` also writes the rows. */

import { execFileSync, spawnSync } from 'node:child_process'
import { resolve } from 'node:path'
import { needBuild, needDebianPackages, needNodeModules } from './packages.mjs'
import { startPostgres } from './postgres.mjs'

needDebianPackages(['postgresql', 'chromium'])
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
const postgres = await startPostgres(resolve('.data/bench-postgres'), { lasting: false })
try {
  const env = { ...process.env, ENKRASIS_BENCH_DATABASE: postgres.url }
  process.exitCode =
    spawnSync(process.execPath, ['dist/node/bench.mjs', ...process.argv.slice(2)], { stdio: 'inherit', env }).status ??
    1
} finally {
  await postgres.stop()
}
