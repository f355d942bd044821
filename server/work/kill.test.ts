import { KillBench, killsFor } from './test/kills'

/** Two workers of one database and one media folder; whoever is killed, nothing is lost and nothing comes out otherwise. */

const bench = new KillBench()
beforeAll(() => bench.start(), 120_000)
afterAll(() => bench.stop())

test.each(killsFor(20261125, 6))(
  'kill -9 of a $target, $moment (seed $seed): the files are those of an undisturbed run',
  async (kill) => expect(await bench.disturbed(kill)).toEqual([]),
  120_000,
)
