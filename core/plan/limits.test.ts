import { localEngine } from '../test/local-engine'
import { madeUpFrame, smallShot, treated } from '../test/small-shot'
import { newLimit, newTreatment } from '../shot'
import { cgElement, light, only, plan } from '../test/planned'

describe('limits', () => {
  const gained = newTreatment('veil-and-gain', 'gain', { gain: [3, 3, 3] })
  const matte = { kind: 'source', source: 'matte', part: null, channel: null, lies: 'frame' } as const
  const limited = (limit: ReturnType<typeof newLimit>) => treated(only('plate', 'cg'), cgElement, gained, { limit })

  test('at 0 the input’s bits stand, at 1 the treatment’s, between a mixture', async () => {
    const [none, all] = [await light(only('plate', 'cg')), await light(treated(only('plate', 'cg'), cgElement, gained))]
    const [zero, one, half] = await Promise.all(
      [0, 1, 0.5].map((amount) => light(limited(newLimit(null, { amount: [amount] })))),
    )
    expect(zero).toEqual(none)
    expect(one).toEqual(all)
    half.forEach((v, i) => expect(v).toBeCloseTo((none[i] + all[i]) / 2, 5))
  })

  test('a matte says where, inverted where not; beyond its pixels it is 0', async () => {
    const [none, all] = [await light(only('plate', 'cg')), await light(treated(only('plate', 'cg'), cgElement, gained))]
    const [inside, outside] = await Promise.all([
      light(limited(newLimit(matte))),
      light(limited({ ...newLimit(matte), inverted: true })),
    ])
    const planes = madeUpFrame({ source: 'matte', frame: null })
    const { x, y, width, height } = planes.dataWindow
    for (let py = 45; py < 110; py += 3)
      for (let px = 0; px < 100; px += 3) {
        const covered = px >= x && px < x + width && py >= y && py < y + height
        const m = !covered ? 0 : px < 40 ? 1 : px < 60 ? (60 - px) / 20 : 0
        const i = (py * 300 + px) * 4
        expect(inside[i]).toBeCloseTo(none[i] + (all[i] - none[i]) * m, 3)
        expect(outside[i]).toBeCloseTo(all[i] + (none[i] - all[i]) * m, 3)
      }
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
