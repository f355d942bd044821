import { resolve } from 'node:path'
import { configurationFrom } from './configuration'

const database = 'postgres://someone@127.0.0.1/somewhere'

test('on one machine everything has a default but the database', () => {
  const configuration = configurationFrom({ ENKRASIS_DATABASE: database })
  expect(configuration).toMatchObject({
    databaseUrl: database,
    host: '127.0.0.1',
    deliveryRoot: resolve('.data/delivery'),
  })
  expect(configuration.media.place().roots).toEqual([resolve('.data/media')])
  expect(() => configurationFrom({})).toThrow('Set ENKRASIS_DATABASE')
})

test('footage may lie in other folders, and two of one name are refused', () => {
  const media = (folders: string) => configurationFrom({ ENKRASIS_DATABASE: database, ENKRASIS_MEDIA: folders }).media
  const { names, store } = media('/mnt/footage:/mnt/scans/day-2')
  expect(names).toEqual(['footage', 'day-2'])
  expect(media('/mnt/footage:').place('/x')).toEqual({ roots: [store, '/mnt/footage'], folder: '/x' })
  expect(() => media('/a/footage:/b/footage')).toThrow('Two folders of media are called footage')
})

test('long work is done in the server unless it is done elsewhere', () => {
  const works = (where?: string) => configurationFrom({ ENKRASIS_DATABASE: database, ENKRASIS_WORK: where }).worksHere
  expect([works(), works('here'), works('elsewhere')]).toEqual([true, true, false])
  expect(() => works('nowhere')).toThrow('ENKRASIS_WORK')
})

test.each([
  ['ENKRASIS_PORT', '99999'],
  ['ENKRASIS_PORT', 'http'],
  ['ENKRASIS_THREADS', '0'],
  ['ENKRASIS_ENGINE_MB', '12'],
])('%s=%s is refused by name', (name, value) => {
  expect(() => configurationFrom({ ENKRASIS_DATABASE: database, [name]: value })).toThrow(name)
})
