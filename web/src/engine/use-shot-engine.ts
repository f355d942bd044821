/** Starts an engine for a shot, and ends it when the shot is left. */

import { useEffect, useState } from 'react'
import type { Engine } from '../../../core/engine/engine'
import { fetchFrame } from '../api/client'
import { browserEngine } from './browser-engine'
import { PictureMaker } from './picture-maker'

export interface ShotEngine {
  readonly maker: PictureMaker | null
  /** why there can be none, or null */
  readonly failure: string | null
}

export function useShotEngine(shot: string, firstFrame: number): ShotEngine {
  const [state, setState] = useState<ShotEngine>({ maker: null, failure: null })
  useEffect(() => {
    let gone = false
    let started: Engine | null = null
    browserEngine((request) => fetchFrame(shot, firstFrame, request)).then(
      (engine) => {
        if (gone) return engine.close()
        started = engine
        setState({ maker: new PictureMaker(engine), failure: null })
      },
      (error: unknown) => {
        if (!gone) setState({ maker: null, failure: error instanceof Error ? error.message : String(error) })
      },
    )
    return () => {
      gone = true
      started?.close()
      setState({ maker: null, failure: null })
    }
  }, [shot, firstFrame])
  return state
}
