/** One engine, and what makes pictures with it, for the shot on screen. */

import { createContext, useContext } from 'react'
import type { Engine } from '../../../core/engine/engine'
import type { PictureMaker } from './picture-maker'

export const PictureContext = createContext<PictureMaker | null>(null)

/** @throws when used outside a shot screen */
export function usePictureMaker(): PictureMaker {
  const maker = useContext(PictureContext)
  if (!maker) throw new Error('There is no engine outside a shot screen.')
  return maker
}

/** @throws when used outside a shot screen */
export function useEngine(): Engine {
  return usePictureMaker().engine
}
