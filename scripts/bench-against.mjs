/**
 * npm run bench -- --against COMMIT [--only GROUP] [--times N]: this build and that of another commit in turns, on the same
 * media. Fails where a row of both became slower: the median ratio above 1.08, and its quartiles exclude 1.
 */

import { execFileSync, spawnSync } from 'node:child_process'
import { cpSync, existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'

const worst = 1.08

const sorted = (values) => [...values].sort((a, b) => a - b)
/** @param share 0.25, 0.5 or 0.75; between two values their mean, by distance */
function quantile(values, share) {
  const all = sorted(values)
  const at = (all.length - 1) * share
  const low = Math.floor(at)
  return all[low] + (all[Math.min(all.length - 1, low + 1)] - all[low]) * (at - low)
}

/** The other commit, built once, with the media of this one: files are linked, only its own shot file is written anew. */
function prepare(commit) {
  const id = execFileSync('git', ['rev-parse', '--short', `${commit}^{commit}`], { encoding: 'utf8' }).trim()
  // Not below .data: files under a folder whose name begins with a dot are not sent to browsers.
  const folder = join(tmpdir(), `enkrasis-bench-${id}`)
  const run = (command, ...args) => execFileSync(command, args, { cwd: folder, stdio: ['ignore', 'ignore', 'inherit'] })
  if (!existsSync(folder)) {
    console.log(`Building ${id} …`)
    try {
      execFileSync('git', ['clone', '--quiet', '--no-checkout', resolve('.'), folder])
      run('git', 'checkout', '--quiet', id)
      run('npm', 'ci', '--no-audit', '--no-fund')
      run('npm', 'run', '--silent', 'build')
    } catch (error) {
      rmSync(folder, { recursive: true, force: true })
      throw error
    }
  }
  mkdirSync(resolve(folder, '.data'), { recursive: true })
  for (const name of ['media', 'truth', 'bench-1080']) {
    const to = resolve(folder, '.data', name)
    if (existsSync(to)) continue
    if (existsSync(resolve('.data', name))) cpSync(resolve('.data', name), to, { recursive: true })
  }
  for (const shot of ['.data/media/quay-010', '.data/bench-1080/media/quay-010'])
    rmSync(resolve(folder, shot, 'quay-010.shot.json'), { force: true })
  const standin = (data, ...size) =>
    run(process.execPath, 'dist/node/standin.mjs', '--media', `${data}/media`, '--truth', `${data}/truth`, ...size)
  standin('.data')
  standin('.data/bench-1080', '--size', '1920x1080', '--frames', '2')
  if (existsSync('vite.bench.config.ts'))
    run('npx', '--no-install', 'vite', 'build', '--config', 'vite.bench.config.ts')
  return { id, folder }
}

/** @returns by name, smaller is better */
function measure(folder, args, database) {
  const json = resolve('.data/bench-turn.json')
  rmSync(json, { force: true })
  spawnSync(process.execPath, ['dist/node/bench.mjs', '--json', json, ...args], {
    cwd: folder,
    stdio: ['ignore', 'ignore', 'inherit'],
    env: { ...process.env, ENKRASIS_BENCH_DATABASE: database },
  })
  const rows = existsSync(json) ? JSON.parse(readFileSync(json, 'utf8')) : []
  return new Map(rows.map(({ name, ours, unit }) => [name, unit.endsWith('/s') ? 1 / ours : ours]))
}

/** @returns whether no row became slower */
export function benchAgainst(commit, { only, times }, database) {
  const other = prepare(commit)
  const args = only === undefined ? [] : ['--only', only]
  const ratios = new Map()
  for (let turn = 0; turn < times; turn++) {
    // Whoever comes first has the colder machine: they change places.
    const folders = turn % 2 === 0 ? [other.folder, resolve('.')] : [resolve('.'), other.folder]
    const found = folders.map((folder) => measure(folder, args, database))
    const [before, now] = turn % 2 === 0 ? found : [found[1], found[0]]
    for (const [name, value] of now) {
      const old = before.get(name)
      if (old === undefined || old === 0 || value === 0) continue
      ratios.set(name, [...(ratios.get(name) ?? []), value / old])
    }
    console.log(`turn ${turn + 1} of ${times}`)
  }
  let good = true
  for (const [name, all] of ratios) {
    const [low, median, high] = [0.25, 0.5, 0.75].map((share) => quantile(all, share))
    const slower = median > worst && low > 1
    good &&= !slower
    console.log(
      `${slower ? 'NOT' : 'ok '}  ${name}: ${median.toFixed(2)} of the time of ${other.id} (quartiles ${low.toFixed(2)} to ${high.toFixed(2)}, ${all.length} turns)`,
    )
  }
  return good
}
