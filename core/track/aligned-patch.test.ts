import { alignedPatch, readyFor } from './aligned-patch'
import { boundOf, found, isHeld, middle, radius, side } from './test/moved-texture'
import { planeOf, textureOf } from './test/texture'

/** Patterns found again in pictures whose shift is known, beside the bound that noise sets. */

test('without noise it is found to a hundredth of a pixel, with gain and offset of the light', () => {
  for (let seed = 1; seed <= 20; seed++) {
    const one = found(seed, { noise: 0, gain: 1.2, shift: [1.37, -0.81] })
    expect(Math.hypot((one?.at.x ?? NaN) - 24.37, (one?.at.y ?? NaN) - 22.19)).toBeLessThan(0.01)
    expect(one?.gain).toBeCloseTo(1.2, 2)
  }
})

describe.each([5, 10, 20])('contrast to noise %d', (contrast) => {
  const noise = 1 / contrast
  const sets = 160

  test('errors are within 1.25 of the bound, favour no phase, and the stated ellipses hold 85 to 95 %', () => {
    let [squares, bounds, held] = [0, 0, 0]
    let locked = 0
    for (let seed = 1; seed <= sets; seed++) {
      const phase = seed % 16
      const shift = [phase / 16, ((phase * 5) % 16) / 16] as const
      const one = found(seed, { noise, shift })
      if (!one) throw new Error(`Seed ${seed} was not found.`)
      const [ex, ey] = [one.at.x - middle.x - shift[0], one.at.y - middle.y - shift[1]]
      squares += ex * ex + ey * ey
      bounds += 2 * boundOf(seed, noise) ** 2
      // Drawn towards whole pixels, errors go with the sine of the phase.
      locked += (2 / sets) * ex * Math.sin((2 * Math.PI * phase) / 16)
      if (isHeld(one.spread, ex, ey)) held++
    }
    expect(Math.sqrt(squares / bounds)).toBeLessThan(1.25)
    expect(Math.abs(locked)).toBeLessThan(0.005)
    expect(held / sets).toBeGreaterThan(0.85)
    expect(held / sets).toBeLessThan(0.95)
  })
})

test('turned by 5 degrees, 5 % larger and 20 % lighter it is within 1.5 of the bound', () => {
  const noise = 0.1
  let [squares, bounds] = [0, 0]
  for (let seed = 1; seed <= 80; seed++) {
    const shift = [0.4, -0.3] as const
    const one = found(seed, { noise, model: 'similarity', turn: (5 * Math.PI) / 180, scale: 1.05, gain: 1.2, shift })
    if (!one) throw new Error(`Seed ${seed} was not found.`)
    squares += (one.at.x - middle.x - shift[0]) ** 2 + (one.at.y - middle.y - shift[1]) ** 2
    bounds += 2 * boundOf(seed, noise) ** 2
  }
  expect(Math.sqrt(squares / bounds)).toBeLessThan(1.5)
})

test('where there is no texture, or an edge alone, nothing is found or it is told to be unsure; beyond the picture nothing is', () => {
  const flat = readyFor(planeOf(side, () => 0.2))
  expect(alignedPatch(flat, flat, middle, middle, { radius, model: 'translation' })).toBeNull()
  const edge = readyFor(planeOf(side, (x) => (x > 23 ? 1 : 0), { noise: 0.02 }))
  const along = alignedPatch(
    edge,
    readyFor(planeOf(side, (x) => (x > 23 ? 1 : 0), { noise: 0.02, seed: 5 })),
    middle,
    middle,
    {
      radius,
      model: 'translation',
    },
  )
  if (along) expect(along.spread.yy).toBeGreaterThan(30 * along.spread.xx)
  const texture = readyFor(planeOf(side, textureOf(3)))
  expect(alignedPatch(texture, texture, { x: 5, y: 23 }, { x: 5, y: 23 }, { radius, model: 'translation' })).toBeNull()
})
