/** What the machine must have: Debian packages, node modules, a build. Each is brought only when it is missing. */

import { execFileSync, spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync, readdirSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'

const onPath = (program) => spawnSync('sh', ['-c', `command -v ${program}`]).status === 0

/** Folder of PostgreSQL's programs, the newest version first; null when there is none. */
export function postgresPrograms() {
  const root = '/usr/lib/postgresql'
  if (existsSync(root)) {
    for (const version of readdirSync(root).sort((a, b) => Number(b) - Number(a))) {
      const folder = join(root, version, 'bin')
      if (existsSync(join(folder, 'initdb')) && existsSync(join(folder, 'postgres'))) return folder
    }
  }
  return null
}

const checks = {
  postgresql: () => postgresPrograms() !== null,
  chromium: () => existsSync('/usr/bin/chromium'),
  openexr: () => onPath('exrheader') && onPath('exrmaketiled'),
  'openimageio-tools': () => onPath('oiiotool'),
  'opencolorio-tools': () => onPath('ocioconvert'),
  ffmpeg: () => onPath('ffmpeg') && onPath('ffprobe'),
  unzip: () => onPath('unzip'),
}

/** Installs Debian packages that are missing, or says the exact command and ends. */
export function needDebianPackages(names) {
  const missing = names.filter((name) => !checks[name]())
  if (missing.length === 0) return
  const command = `apt-get update && apt-get install -y --no-install-recommends ${missing.join(' ')}`
  if (process.getuid?.() !== 0) {
    console.error(
      `These Debian packages are missing: ${missing.join(', ')}. Run this as root and try again:\n  ${command}`,
    )
    process.exit(1)
  }
  console.log(`Installing Debian packages: ${missing.join(', ')}`)
  const result = spawnSync('sh', ['-c', command], {
    stdio: ['ignore', 'ignore', 'inherit'],
    env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
  })
  const still = missing.filter((name) => !checks[name]())
  if (result.status !== 0 || still.length > 0) {
    console.error(`Installing ${missing.join(', ')} failed. Run this by hand to see why:\n  ${command}`)
    process.exit(1)
  }
}

const digest = (text) => createHash('sha256').update(text).digest('hex')

/** Runs `npm ci` when the modules are not those of the lock file. */
export function needNodeModules() {
  const stamp = 'node_modules/.enkrasis-lock'
  const wanted = digest(readFileSync('package-lock.json'))
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted) return
  console.log('Installing node modules')
  execFileSync('npm', ['ci', '--no-audit', '--no-fund'], { stdio: ['ignore', 'ignore', 'inherit'] })
  writeFileSync(stamp, wanted)
}

function filesBelow(folder) {
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
    const path = join(folder, entry.name)
    return entry.isDirectory() ? filesBelow(path) : [path]
  })
}

/** Builds when a source is not the one that was built. */
export function needBuild() {
  const sources = ['core', 'formats', 'server', 'web', 'standin', 'bench'].flatMap(filesBelow).sort()
  const configs = ['package-lock.json', 'vite.config.ts', 'vite.node.config.ts', 'tsconfig.json']
  const wanted = digest([...sources, ...configs].map((file) => `${file} ${digest(readFileSync(file))}`).join('\n'))
  const stamp = 'dist/.sources'
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted && statSync('dist/web/index.html').size > 0) return
  console.log('Building')
  execFileSync('npm', ['run', '--silent', 'build'], { stdio: ['ignore', 'ignore', 'inherit'] })
  mkdirSync('dist', { recursive: true })
  writeFileSync(stamp, wanted)
}
