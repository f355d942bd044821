/** Clean plates, soft mattes and motion blur by flow: how far they are off, beside what they could be and beside an independent program. */

import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { inPlace } from '../core/making'
import { cleanPlate, type FramesToJoin } from '../core/repair/clean-plate'
import { softCoverage } from '../core/soft-matte/soft-coverage'
import { errorInBand, hairOutdoors, type HairOutdoors } from '../core/test/hair-outdoors'
import { MovingDiscs, meanError } from '../core/test/moving-discs'
import { walkingFigure, type WalkingFigure } from '../core/test/walking-figure'
import { Makers } from '../server/making/makers'
import { atLeast, atMost, besidePeer, type Row } from './row'

const { abs, round, sqrt } = Math

export async function benchRepair(): Promise<Row[]> {
  return [...(await walking()), ...(await hair()), ...(await moving())]
}

/** Discs of a fifth of the frame that go by up to 24 pixels a frame. */
async function moving(): Promise<Row[]> {
  const scene = new MovingDiscs(
    [
      { at: (time) => [400 + 24 * time, 360 - 9 * time], radius: 180 },
      { at: (time) => [900 - 15 * time, 380 + 8 * time], radius: 200 },
    ],
    1280,
    720,
  )
  const began = performance.now()
  const blurred = await inPlace.motionBlurred(scene.frames, 0.5)
  const seconds = (performance.now() - began) / 1000
  const truth = scene.exposed(0.5, 32)
  return [
    besidePeer(
      'Render blurred by its own motion, 180 degrees: mean error beside that of no blur',
      meanError(blurred, truth),
      meanError(scene.seen(0).light, truth),
      0.2,
      '',
    ),
    atMost('... 1280x720, a fifth of it covered, one thread: a frame', seconds, 8, 's'),
  ]
}

function framesOf(scene: WalkingFigure): FramesToJoin {
  return {
    frames: scene.frames.map((_, i) => i),
    frameSize: scene,
    joined: inPlace.joined,
    covered: async () => null,
    async light(frame, window, scale) {
      const out = new Float32Array(window.width * window.height * 4)
      for (let y = 0; y < window.height * scale; y++)
        for (let x = 0; x < window.width * scale; x++) {
          const [px, py] = [window.x * scale + x, window.y * scale + y]
          if (px < 0 || py < 0 || px >= scene.width || py >= scene.height) continue
          const at = (Math.floor(y / scale) * window.width + Math.floor(x / scale)) * 4
          for (let c = 0; c < 4; c++) out[at + c] += scene.frames[frame][(py * scene.width + px) * 4 + c] / scale ** 2
        }
      return out
    },
  }
}

async function walking(): Promise<Row[]> {
  const scene = walkingFigure(480, 270, 11, { frames: 24, sigma: 0.008, lingers: 0.4 })
  const { light } = await cleanPlate(framesOf(scene), { even: true })
  const { width, height, wall } = scene
  let [sum, good, all] = [0, 0, 0]
  for (let y = 1; y < height - 1; y++)
    for (let x = 1; x < width - 1; x++)
      for (let c = 0; c < 3; c++, all++) {
        const at = (y * width + x) * 4 + c
        sum += (light[at] - wall[at]) ** 2
        let soft = 0
        for (let j = -width; j <= width; j += width)
          for (let i = -1; i <= 1; i++) soft += light[at + 4 * (j + i)] - wall[at + 4 * (j + i)]
        if (abs(soft / 9) < 0.003) good++
      }
  return [
    besidePeer(
      'Clean plate of 24 frames, somebody walking: RMS beside the noise of 24',
      sqrt(sum / all),
      scene.sigma / sqrt(24),
      1.15,
      'light',
    ),
    atLeast('... pixels whose error over 3 x 3 is below 0.003', (100 * good) / all, 99.5, '%'),
  ]
}

/** Mean error of OpenCV's information flow, on the picture in linear light or encoded, whichever suits it better. */
function besideOpenCv(scene: HairOutdoors): number {
  const folder = mkdtempSync(join(tmpdir(), 'enkrasis-hair-'))
  const { width, height, planes, known } = scene
  try {
    writeFileSync(
      join(folder, 'known'),
      Uint8Array.from(known, (value) => (value === 1 ? 255 : value === 0 ? 0 : 128)),
    )
    const errors = [(v: number) => v, (v: number) => (v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055)].map(
      (encode) => {
        const bytes = new Uint8Array(width * height * 3)
        for (let i = 0; i < known.length; i++)
          for (let c = 0; c < 3; c++) bytes[3 * i + c] = round(255 * encode(Math.min(1, planes[2 - c][i])))
        writeFileSync(join(folder, 'picture'), bytes)
        execFileSync('/usr/bin/python3', ['-c', script, folder, `${width}`, `${height}`], { stdio: 'ignore' })
        return errorInBand(
          scene,
          Float32Array.from(readFileSync(join(folder, 'alpha')), (value) => value / 255),
        )
      },
    )
    return Math.min(...errors)
  } finally {
    rmSync(folder, { recursive: true })
  }
}

const script = `
import sys, cv2, numpy
folder, w, h = sys.argv[1], int(sys.argv[2]), int(sys.argv[3])
picture = numpy.fromfile(folder + '/picture', numpy.uint8).reshape(h, w, 3)
known = numpy.fromfile(folder + '/known', numpy.uint8).reshape(h, w)
cv2.alphamat.infoFlow(picture, known).tofile(folder + '/alpha')
`

async function hair(): Promise<Row[]> {
  const rows: Row[] = []
  for (const seed of [1, 2, 3]) {
    const scene = hairOutdoors(320, 180, seed, 0.004, 1)
    const found = softCoverage(scene, scene.known, { noise: 0.004 })
    rows.push(
      besidePeer(
        `Soft matte of hair ${seed}, ${(100 * scene.band).toFixed(0)} % unsure: mean error beside OpenCV's alphamat.infoFlow`,
        errorInBand(scene, found),
        besideOpenCv(scene),
        1,
        'alpha',
      ),
    )
  }
  const [one, other] = [0, 1].map((frame) => hairOutdoors(320, 180, 1, 0.004, 1, frame))
  const [a, b] = [one, other].map((scene) => softCoverage(scene, scene.known, { noise: 0.004 }))
  let [sum, count] = [0, 0]
  one.known.forEach((value, i) => {
    if (value === value) return
    sum += (a[i] - b[i]) ** 2
    count++
  })
  rows.push(atMost('... deviation from frame to frame', sqrt(sum / count / 2), 0.02, 'alpha'))
  rows.push(await secondsAFrame())
  return rows
}

/** Of 1280 x 720 with a tenth unsure, as the server makes them: on two threads. */
async function secondsAFrame(): Promise<Row> {
  const frames = [2, 2, 2, 2].map((wide, frame) => hairOutdoors(1280, 720, 1, 0.004, wide, frame))
  const filmed = frames.map(({ width, height, planes, known }) => {
    const light = new Float32Array(width * height * 4)
    for (let i = 0; i < known.length; i++) light.set([planes[0][i], planes[1][i], planes[2][i], 1], 4 * i)
    const [inside, outside] = [1, 0].map((side) => known.map((value) => (value === side ? 1 : 0)))
    return { width, height, light, inside, outside }
  })
  const makers = new Makers(new URL('maker.mjs', import.meta.url), 2)
  try {
    const start = performance.now()
    await Promise.all(filmed.map((one) => makers.softMatte(one)))
    const seconds = (performance.now() - start) / 1000 / filmed.length
    return atMost(
      `... 1280x720, ${(100 * frames[0].band).toFixed(1)} % unsure, with its own light, on two threads`,
      seconds,
      4,
      's a frame',
    )
  } finally {
    await makers.close()
  }
}
