import fc from 'fast-check'
import { inOrder } from './in-order'

test('results come in order, however long each takes, and no more are begun than is said', async () => {
  await fc.assert(
    fc.asyncProperty(fc.array(fc.nat(3), { maxLength: 20 }), fc.integer({ min: 1, max: 5 }), async (waits, atOnce) => {
      let [begun, handedOut] = [0, 0]
      const found: number[] = []
      const one = async (index: number) => {
        begun++
        expect(begun - handedOut).toBeLessThanOrEqual(atOnce)
        for (let turn = 0; turn < waits[index]; turn++) await null
        if (waits[index] === 3) throw new Error('three')
        return index
      }
      for await (const ended of inOrder(waits.keys(), atOnce, one)) {
        handedOut++
        expect('error' in ended).toBe(waits[ended.item] === 3)
        found.push(ended.item)
      }
      expect(found).toEqual([...waits.keys()])
    }),
  )
})
