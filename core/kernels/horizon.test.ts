import { nearHorizon } from './test/near-horizon'

test.each(['catmull-rom', 'lanczos-3'] as const)(
  '%s keeps 38 dB of a checker on the ground, also on the row nearest to the horizon',
  (filter) => {
    const { whole, nearest } = nearHorizon(filter)
    expect(whole).toBeGreaterThan(42)
    expect(nearest).toBeGreaterThan(38)
  },
)
