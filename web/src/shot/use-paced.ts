/** A value that changes with every move of a pointer, for what is too slow to be drawn with each. */

import { useEffect, useRef, useState } from 'react'

/** @returns the value as it was not long ago, changed at most once in that time; it is the newest when nothing more comes */
export function usePaced<T>(value: T, restMs: number): T {
  const [shown, setShown] = useState(value)
  const last = useRef(0)
  useEffect(() => {
    const show = () => {
      last.current = performance.now()
      setShown(value)
    }
    const timer = setTimeout(show, Math.max(0, last.current + restMs - performance.now()))
    return () => clearTimeout(timer)
  }, [value, restMs])
  return shown
}
