/** What the camera file whose card is open says of the shot's frames. */

import { skipToken } from '@reduxjs/toolkit/query'
import { mediaKind, type SolvedScene } from '../../../../core/shot'
import { serverCache } from '../../api/server-cache'
import { useAppSelector } from '../../store'
import { selectDocument, selectSource } from '../../store/selectors'

export interface SceneSeen {
  readonly scene: SolvedScene | null
  /** why there is none */
  readonly problem: string | null
}

export function useSolvedScene(): SceneSeen {
  const id = useAppSelector((state) => state.shot.id)
  const source = useAppSelector(selectSource)
  const shot = useAppSelector(selectDocument)
  const isCamera = source !== null && mediaKind(source.path) === 'camera'
  const of = shot && source ? JSON.stringify([source.path, source.name, shot.frames, shot.rate]) : ''
  const { data, error } = serverCache.endpoints.scene.useQuery(
    isCamera && id !== null ? { shot: id, source: source.id, of } : skipToken,
  )
  return { scene: isCamera ? (data ?? null) : null, problem: isCamera && error ? String(error) : null }
}
