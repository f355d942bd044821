/** How much room the files take that were made here, and taking away those of no source any more. */

import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { useEffect, useState } from 'react'
import type { MadeFilesState } from '../../../../../core/work'
import { loadMadeFiles, removeUnusedMadeFiles } from '../../../api/client'
import { bytesText } from '../../../bytes-text'
import { useAppSelector } from '../../../store'
import { selectDocument } from '../../../store/selectors'

/** Nothing while nothing was made. Asked anew when the sources have changed. */
export function MadeFiles() {
  const shot = useAppSelector((state) => state.shot.id) ?? ''
  const sources = useAppSelector((state) => selectDocument(state)?.sources)
  const saved = useAppSelector((state) => state.shot.saving === 'saved')
  const [files, setFiles] = useState<MadeFilesState | null>(null)
  const [problem, setProblem] = useState<string | null>(null)
  useEffect(() => {
    if (!saved) return
    let left = false
    loadMadeFiles(shot).then(
      (found) => left || setFiles(found),
      (error: Error) => left || setProblem(error.message),
    )
    return () => {
      left = true
    }
  }, [shot, sources, saved])
  if (problem !== null) return <Typography variant="caption">{problem}</Typography>
  if (!files || files.bytes === 0) return null
  return (
    <Stack direction="row" sx={{ alignItems: 'center', px: 1.2, gap: 0.5 }}>
      <Typography variant="caption" color="textSecondary">
        Made here: {bytesText(files.bytes)}
        {files.unused > 0 && `, ${bytesText(files.unused)} of no source any more`}
      </Typography>
      {files.unused > 0 && (
        <Button
          sx={{ minWidth: 0, px: 0.6, py: 0, flexShrink: 0 }}
          onClick={() => void removeUnusedMadeFiles(shot).then(setFiles, (error: Error) => setProblem(error.message))}
        >
          Remove those
        </Button>
      )}
    </Stack>
  )
}
