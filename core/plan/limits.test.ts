import { localEngine } from '../test/local-engine'
import { madeUpFrame, smallShot, treated } from '../test/small-shot'
import { groupInputs, newBlend, newElement, newLimit, newPlacing, newTreatment, type Limit, type Shot } from '../shot'
import { cgElement, light, only, plan } from '../test/planned'
import { mostOff } from '../test/windows'

describe('limits', () => {
  const gained = newTreatment('veil-and-gain', 'gain', { gain: [3, 3, 3] })
  const matte = { kind: 'source', source: 'matte', part: null, channel: null, lies: 'frame' } as const
  const { x, y, width, height } = madeUpFrame({ source: 'matte', frame: null }).dataWindow
  const maskAt = (px: number, py: number) => {
    const covered = px >= x && px < x + width && py >= y && py < y + height
    return !covered ? 0 : px < 40 ? 1 : px < 60 ? (60 - px) / 20 : 0
  }
  const limited = (limit: ReturnType<typeof newLimit>) => treated(only('plate', 'cg'), cgElement, gained, { limit })

  test('at 0 the input’s bits stand, at 1 the treatment’s, between a mixture', async () => {
    const [none, all] = [await light(only('plate', 'cg')), await light(treated(only('plate', 'cg'), cgElement, gained))]
    const [zero, one, half] = await Promise.all(
      [0, 1, 0.5].map((amount) => light(limited(newLimit(null, { amount: [amount] })))),
    )
    expect(zero).toEqual(none)
    expect(one).toEqual(all)
    expect(mostOff(half, (i) => (none[i] + all[i]) / 2)).toBeLessThan(5e-6)
  })

  test('a matte says where, inverted where not; beyond its pixels it is 0', async () => {
    const [none, all] = [await light(only('plate', 'cg')), await light(treated(only('plate', 'cg'), cgElement, gained))]
    const [inside, outside] = await Promise.all([
      light(limited(newLimit(matte))),
      light(limited({ ...newLimit(matte), inverted: true })),
    ])
    for (let py = 45; py < 110; py += 3)
      for (let px = 0; px < 100; px += 3) {
        const m = maskAt(px, py)
        const i = (py * 300 + px) * 4
        expect(inside[i]).toBeCloseTo(none[i] + (all[i] - none[i]) * m, 3)
        expect(outside[i]).toBeCloseTo(all[i] + (none[i] - all[i]) * m, 3)
      }
  })

  const placing = newPlacing({ x: 0, y: 0, ...smallShot.frameSize }, { x: [17], y: [-9] })
  const group = newElement('group', 'Group', 'a9', newBlend('over'), groupInputs())
  test.each([
    ['is placed', { cg: { placing } }],
    ['is in a group that is placed', { cg: { parent: 'group' }, group: { ...group, placing } }],
  ])('on an element that %s the matte stays where it lies in the frame', async (_, lies) => {
    const moved = (limit: Limit | null): Shot => {
      const shot = limit ? limited(limit) : only('plate', 'cg')
      const cg = { ...shot.elements.byId.cg, ...lies.cg }
      return { ...shot, elements: { byId: { ...shot.elements.byId, ...lies, cg } } }
    }
    const [none, all, inside] = await Promise.all(
      [null, newLimit(null), newLimit(matte)].map((one) => light(moved(one))),
    )
    let changed = 0
    for (let py = 2; py < 110; py += 3)
      for (let px = 0; px < 100; px += 3) {
        const i = (py * 300 + px) * 4
        const m = maskAt(px, py)
        if (m > 0 && Math.abs(all[i] - none[i]) > 0.01) changed++
        expect(inside[i]).toBeCloseTo(none[i] + (all[i] - none[i]) * m, 3)
      }
    expect(changed).toBeGreaterThan(20)
  })

  test('an element’s alpha limits too', async () => {
    const lens = treated(smallShot, { kind: 'element', id: 'plate' }, gained, {
      limit: newLimit({ kind: 'element', element: 'cg' }),
    })
    const far = { x: 200, y: 20, width: 4, height: 4 }
    const out = await localEngine(1).light(plan({ ...lens }).composite, far)
    expect(out).toEqual(await localEngine(1).light(plan().plate, far))
  })
})
