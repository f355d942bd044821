import { nearHorizon } from './test/near-horizon'

test.each(['catmull-rom', 'lanczos-3'] as const)(
  '%s keeps 38 dB of a checker on the ground, also on the row nearest to the horizon',
  (filter) => {
    const { whole, nearest } = nearHorizon(filter)
    expect(whole).toBeGreaterThan(43)
    // Were a source pixel not counted by what it covers there, it would be 48.
    expect(nearest).toBeGreaterThan(55)
  },
)
