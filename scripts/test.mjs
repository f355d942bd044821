/** npm test: brings what is missing, then runs every check and every suite, and adds them up. */

import { spawnSync } from 'node:child_process'
import { chmodSync, existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { needBuild, needDebianPackages, needNodeModules } from './packages.mjs'
import { startPostgres } from './postgres.mjs'

needDebianPackages(['postgresql', 'chromium', 'openexr', 'openimageio-tools', 'opencolorio-tools', 'ffmpeg', 'unzip'])
needNodeModules()
needBuild()

const scratch = mkdtempSync(join(tmpdir(), 'enkrasis-test-'))
// PostgreSQL runs as another user, who must be able to reach it.
chmodSync(scratch, 0o755)
let passed = 0
let failed = 0

function run(command, args, env = {}) {
  return (
    spawnSync(command, args, { stdio: ['ignore', 'inherit', 'inherit'], env: { ...process.env, ...env } }).status === 0
  )
}

function check(name, command, ...args) {
  const good = run(command, args)
  console.log(`${good ? 'passed' : 'FAILED'}: ${name}`)
  if (good) passed++
  else failed++
}

/** A suite that could not even start counts as one failure. */
function suite(name, env = {}) {
  const report = join(scratch, `${name}.json`)
  run(
    'npx',
    [
      '--no-install',
      'jest',
      '--selectProjects',
      name,
      '--json',
      `--outputFile=${report}`,
      '--testTimeout=60000',
      // Units share nothing and wait for nothing; the others share a database and a screen.
      ...(name === 'unit' ? ['--maxWorkers=100%'] : ['--runInBand']),
    ],
    env,
  )
  if (!existsSync(report)) {
    console.log(`FAILED: the suite ${name} did not report`)
    failed++
    return
  }
  const { numPassedTests, numFailedTests, numRuntimeErrorTestSuites, numTotalTests } = JSON.parse(
    readFileSync(report, 'utf8'),
  )
  passed += numPassedTests
  failed += numFailedTests + numRuntimeErrorTestSuites + (numTotalTests === 0 ? 1 : 0)
}

check('types', 'npx', '--no-install', 'tsc', '--noEmit')
check('lint', 'npx', '--no-install', 'eslint', '.')
check('format', 'npx', '--no-install', 'prettier', '--check', '--log-level', 'warn', '.')
check(
  'dependency rules',
  'npx',
  '--no-install',
  'depcruise',
  '--config',
  '.dependency-cruiser.cjs',
  'core',
  'formats',
  'server',
  'web',
  'standin',
)
suite('unit')
check(
  'the page of the browser tests',
  'npx',
  '--no-install',
  'vite',
  'build',
  '--config',
  'vite.e2e.config.ts',
  '--logLevel',
  'warn',
)

const media = join(scratch, 'data')
check(
  'the stand-in camera makes a small shot',
  process.execPath,
  'dist/node/standin.mjs',
  '--media',
  join(media, 'media'),
  '--truth',
  join(media, 'truth'),
  '--size',
  '640x360',
  '--frames',
  '6',
)
const postgres = await startPostgres(join(scratch, 'postgres'), { lasting: false })
try {
  const env = { ENKRASIS_TEST_DATABASE: postgres.url, ENKRASIS_TEST_DATA: media }
  suite('server', env)
  suite('browser', env)
} finally {
  await postgres.stop()
  rmSync(scratch, { recursive: true, force: true })
}

console.log(`\n${passed} passed, ${failed} failed`)
process.exitCode = failed === 0 ? 0 : 1
