/** Lenses that are measured: known ones from lines, and one of real photographs of a chessboard beside OpenCV's calibration. */

import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { gunzipSync } from 'node:zlib'
import { bowOf, chartMarks, lensFromChart, lensFromLines, unbent, type ChartSeen, type Line } from '../core/lens'
import { cornersOff, cornersOffAsTold, frame, knownLenses, linesThrough } from '../core/lens/test/known-lenses'
import { decoder } from '../core/colour'
import type { Lens } from '../core/motion/lens'
import type { Plane } from '../core/track/spline'
import { atMost, median, type Row } from './row'

const sets = 20

export function benchLens(): Row[] {
  return [...fromKnownLines(), ...ofMoreLines(), ...fromPhotographs()]
}

/** Of 40 lines, as many as a grid or a building gives; all lenses together. */
function ofMoreLines(): Row[] {
  const count = 40
  const told = knownLenses.map(({ truth }) =>
    Array.from({ length: sets }, (_, seed) => {
      const { lens } = lensFromLines(linesThrough(truth, seed + 1, count), { frame, squeeze: truth.squeeze })
      return cornersOffAsTold(lens, truth)
    }),
  )
  return [
    atMost(
      `Lens from ${count} lines, worst of ${sets} sets of each lens: its corners are off by, less the homography that lines cannot tell`,
      Math.max(...told.flat()),
      0.3,
      'px',
    ),
  ]
}

/** 20 lines over the frame, 41 places on each, with errors of 0.05 px; judged by 8 lines without errors that were not given. */
function fromKnownLines(): Row[] {
  return knownLenses.flatMap(({ name, truth }) => {
    const tried = Array.from({ length: sets }, (_, seed) => {
      const { lens } = lensFromLines(linesThrough(truth, seed + 1), { frame, squeeze: truth.squeeze })
      const bow = Math.max(...linesThrough(truth, 1000 + seed, 8, 0).map((line) => bowOf(lens, line)))
      return { bow, corners: cornersOff(lens, truth), told: cornersOffAsTold(lens, truth) }
    })
    const worst = (of: 'bow' | 'corners' | 'told') => Math.max(...tried.map((one) => one[of]))
    return [
      atMost(`Lens from lines, ${name}, worst of ${sets}: bow of lines held out`, worst('bow'), 0.2, 'px'),
      atMost('… its corners are off by (median)', median(tried.map((one) => one.corners)), 0.3, 'px'),
      atMost('… its corners are off by (worst)', worst('corners'), 0.3, 'px'),
      atMost('… less the homography that lines cannot tell (worst)', worst('told'), 0.3, 'px'),
    ]
  })
}

const size = { width: 640, height: 480 }
const [across, down] = [9, 6]

interface Judged {
  /** of each photograph, corners row by row; pixel middles at whole numbers */
  readonly corners: readonly (readonly (readonly [number, number])[])[]
  readonly rms: number
  readonly camera: readonly (readonly number[])[]
  readonly bends: readonly number[]
  readonly photographs: readonly Plane[]
}

function fromPhotographs(): Row[] {
  const { corners, rms, camera, bends, photographs } = judgedByOpenCv()
  const board = Array.from({ length: across * down }, (_, i) => [i % across, Math.floor(i / across)] as const)
  const views = corners.map((seen): ChartSeen => ({
    marks: board,
    seen: seen.map(([x, y]) => [x + 0.5, y + 0.5] as const),
  }))
  const ours = lensFromChart(views, { frame: size, tangential: true })
  const found = photographs.flatMap((photograph) => chartMarks(photograph) ?? [])
  if (found.length < photographs.length)
    throw new Error(`The chart was found on ${found.length} of ${photographs.length} photographs.`)
  const foundByUs = lensFromChart(found, { frame: size, tangential: true })
  const marks = found.reduce((sum, one) => sum + one.marks.length, 0)
  const [[fx, , cx], [, fy, cy]] = camera
  const [k1, k2, p1, p2, k3] = bends
  const theirs: Lens = { centre: [cx + 0.5, cy + 0.5], unit: fy, squeeze: fy / fx, k1, k2, k3, p1, p2 }
  const lines = views.map(({ seen }): Line[] => [
    ...Array.from({ length: down }, (_, row) => seen.slice(row * across, (row + 1) * across)),
    ...Array.from({ length: across }, (_, column) => seen.filter((_one, i) => i % across === column)),
  ])
  // Each photograph's lines by a lens of the others.
  let [bow, bowByTheirs] = [0, 0]
  lines.forEach((held, i) => {
    const others = lines.filter((_, j) => j !== i).flat()
    const { lens } = lensFromLines(others, { frame: size })
    for (const line of held) {
      bow += bowOf(lens, line) / held.length / lines.length
      bowByTheirs += bowOf(theirs, line) / held.length / lines.length
    }
  })
  const plain = lines.flat().reduce((sum, line) => sum + bowOf(unbent({ frame: size }), line), 0) / lines.flat().length
  return [
    atMost(
      `Lens from ${views.length} photographs of a chessboard: rms (${ours.rms.toFixed(4)} px) beside OpenCV's calibration`,
      ours.rms / rms,
      1.01,
      'x',
    ),
    atMost(
      `… its corners found by ourselves (${marks} of ${photographs.length * across * down}; rms ${foundByUs.rms.toFixed(4)} px), beside OpenCV's`,
      foundByUs.rms / rms,
      1.01,
      'x',
    ),
    atMost(
      `… from their lines only (${plain.toFixed(2)} px without a lens): mean bow held out (${bow.toFixed(3)} px) beside that by OpenCV's numbers`,
      bow / bowByTheirs,
      1.1,
      'x',
    ),
  ]
}

/** By Debian's own OpenCV, on the photographs of its documentation. */
function judgedByOpenCv(): Judged {
  const folder = mkdtempSync(join(tmpdir(), 'enkrasis-chart-'))
  try {
    const where = execFileSync('dpkg', ['-L', 'opencv-doc'], { encoding: 'utf8' }).split('\n')
    const photographs = where.filter((path) => /\/left\d\d\.jpg(\.gz)?$/.test(path))
    if (photographs.length === 0) throw new Error('opencv-doc holds no photographs left01.jpg to left14.jpg.')
    for (const path of photographs) {
      const bytes = execFileSync('cat', [path], { maxBuffer: 1 << 26 })
      const name = path.replace(/^.*\//, '').replace(/\.gz$/, '')
      writeFileSync(join(folder, name), path.endsWith('.gz') ? gunzipSync(bytes) : bytes)
    }
    const files = readdirSync(folder).sort()
    const text = execFileSync('/usr/bin/python3', ['-c', script, folder, ...files], {
      encoding: 'utf8',
      maxBuffer: 1 << 26,
    })
    const photographed = files.map((name) => inLight(new Uint8Array(readFileSync(join(folder, `${name}.raw`)))))
    return { ...(JSON.parse(text) as Omit<Judged, 'photographs'>), photographs: photographed }
  } finally {
    rmSync(folder, { recursive: true })
  }
}

/** Photographs are encoded for the screen. */
const light = decoder('srgb')
const inLight = (bytes: Uint8Array): Plane => ({
  values: Float64Array.from(bytes, (code) => light(code / 255)),
  ...size,
})

const script = `
import sys, os, json, cv2, numpy
folder, names = sys.argv[1], sys.argv[2:]
board = numpy.zeros((${across} * ${down}, 3), numpy.float32)
board[:, :2] = numpy.mgrid[0:${across}, 0:${down}].T.reshape(-1, 2)
corners = []
for name in names:
    picture = cv2.imread(os.path.join(folder, name), 0)
    picture.tofile(os.path.join(folder, name + '.raw'))
    found, places = cv2.findChessboardCorners(picture, (${across}, ${down}))
    if found:
        corners.append(cv2.cornerSubPix(picture, places, (11, 11), (-1, -1), (3, 40, 0.001)))
rms, camera, bends, _, _ = cv2.calibrateCamera([board] * len(corners), corners, (${size.width}, ${size.height}), None, None)
print(json.dumps({"corners": [c.reshape(-1, 2).tolist() for c in corners], "rms": rms, "camera": camera.tolist(), "bends": bends.reshape(-1).tolist()}))
`
