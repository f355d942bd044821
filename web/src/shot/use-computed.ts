/** Lets the engine read what is kept computed. */

import { useEffect } from 'react'
import { useEngine } from '../engine/engine-context'
import { useAppSelector } from '../store'
import { selectComputedKeys } from '../store/selectors'

export function useComputed(): void {
  const engine = useEngine()
  const keys = useAppSelector(selectComputedKeys)
  useEffect(() => engine.readComputed(keys), [engine, keys])
}
