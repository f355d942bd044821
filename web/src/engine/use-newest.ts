/** Runs asked-for work one at a time: while one runs only the newest wish waits, so that a drag never queues up. */

import { useCallback, useRef } from 'react'

/** @returns a function to ask with; what was asked before and has not begun is forgotten */
export function useNewest(): (run: () => Promise<void>) => void {
  const wanted = useRef<(() => Promise<void>) | null>(null)
  const busy = useRef(false)
  return useCallback((run) => {
    wanted.current = run
    if (busy.current) return
    busy.current = true
    void (async () => {
      while (wanted.current) {
        const next = wanted.current
        wanted.current = null
        await next()
      }
      busy.current = false
    })()
  }, [])
}
