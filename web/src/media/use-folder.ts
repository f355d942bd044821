/** The folder of media that is open. */

import { useCallback, useEffect, useState } from 'react'
import type { MediaFolder } from '../../../core/check'
import { browseMedia } from '../api/client'

export interface OpenFolder {
  readonly folder: string
  /** null until it is read */
  readonly found: MediaFolder | null
  readonly problem: string | null
  readonly open: (folder: string) => void
  readonly say: (problem: string | null) => void
}

/** @param onOpened called when another folder is opened */
export function useFolder(onOpened?: () => void): OpenFolder {
  const [folder, setFolder] = useState('')
  const [found, setFound] = useState<MediaFolder | null>(null)
  const [problem, say] = useState<string | null>(null)
  const open = useCallback(
    (next: string) => {
      setFolder(next)
      onOpened?.()
      browseMedia(next).then(
        (media) => {
          setFound(media)
          say(null)
        },
        (error: Error) => say(error.message),
      )
    },
    [onOpened],
  )
  useEffect(() => open(''), [open])
  return { folder, found, problem, open, say }
}
