/** One engine for the shot on screen. */

import { createContext, useContext } from 'react'
import type { Engine } from '../../../core/engine/engine'

export const EngineContext = createContext<Engine | null>(null)

/** @throws when used outside a shot screen */
export function useEngine(): Engine {
  const engine = useContext(EngineContext)
  if (!engine) throw new Error('There is no engine outside a shot screen.')
  return engine
}
