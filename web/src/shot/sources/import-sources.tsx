/** Imports sources: from folders of media, or dragged in from this machine. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { useCallback, useEffect, useState } from 'react'
import type { MediaEntry, PictureHeader } from '../../../../core/check'
import { encodings } from '../../../../core/colour'
import { mediaHeader, mediaPictureUrl, proposeSource } from '../../api/client'
import { FolderList, FolderPath, joined } from '../../media/folder-list'
import { UploadArea } from '../../media/upload-area'
import { useFolder } from '../../media/use-folder'
import { useAppDispatch, useAppSelector } from '../../store'
import { shotActions } from '../../store/shot-slice'
import { MovieProgress } from '../../media/movie-progress'

/** What the first file says, and how it looks. */
function Preview({ path, frame }: { path: string; frame: number | null }) {
  const [header, setHeader] = useState<PictureHeader | null>(null)
  const [problem, setProblem] = useState<string | null>(null)
  useEffect(() => {
    let left = false
    mediaHeader(path, frame).then(
      (found) => left || setHeader(found),
      (error: Error) => left || setProblem(error.message),
    )
    return () => {
      left = true
    }
  }, [path, frame])
  if (problem !== null) return <Typography variant="body2">{problem}</Typography>
  if (!header) return <Typography variant="caption">Reading …</Typography>
  const { parts, says, bits, format } = header
  const { width, height } = parts[0].displayWindow
  return (
    <Stack spacing={0.5}>
      <img
        src={mediaPictureUrl(path, frame)}
        alt={path}
        style={{ width: '100%', aspectRatio: width / height, objectFit: 'contain' }}
      />
      <Typography variant="body2">
        {format.toUpperCase()} {bits === null ? 'float' : `${bits} bit`}, {width} x {height}
      </Typography>
      <Typography variant="caption" color="textSecondary">
        {says.encoding ? encodings[says.encoding].label : 'says no encoding'}
        {says.rate ? `, ${Number(says.rate.toFixed(3))} a second` : ''}
        {parts.length > 1 ? `, ${parts.length} passes` : ''}: {parts[0].channels.map(({ name }) => name).join(' ')}
      </Typography>
    </Stack>
  )
}

const otherText = {
  movie: 'A movie is decoded once, frame by frame, into the media store; then every frame can be read alone.',
  table: 'A table; say with its claims in which encoding it takes colour. The view can be seen through it.',
  other: 'Files of this kind cannot be imported.',
  camera: 'A camera file. It is kept with the shot; nothing is placed by it yet.',
} as const

const listHeight = 330

/** What was chosen, and what can be done with it. The button stands at the foot, where a picture that arrives does not move it. */
interface ChosenProps {
  readonly entry: MediaEntry
  readonly folder: string
  readonly action: string
  readonly onTake: (path: string) => void
}

function Chosen({ entry, folder, action, onTake }: ChosenProps) {
  const [decoding, setDecoding] = useState(false)
  const path = joined(folder, entry.pattern)
  if (entry.kind === 'movie' && decoding) return <MovieProgress path={path} onDone={onTake} />
  return (
    <>
      <Box sx={{ flex: 1, minHeight: 0, overflow: 'auto' }}>
        {entry.kind === 'picture' && <Preview path={path} frame={entry.frames?.first ?? null} />}
        {entry.kind !== 'picture' && <Typography variant="body2">{otherText[entry.kind]}</Typography>}
      </Box>
      <Button
        variant="contained"
        color="primary"
        disabled={entry.kind === 'other'}
        onClick={() => (entry.kind === 'movie' ? setDecoding(true) : onTake(path))}
      >
        {entry.kind === 'movie' ? 'Decode and import' : action}
      </Button>
    </>
  )
}

interface ImportSourcesProps {
  readonly title?: string
  /** what the button says */
  readonly action?: string
  readonly onClose: () => void
  /** with the path that was chosen; absent: it is imported as a new source */
  readonly onTake?: (path: string) => void
}

export function ImportSources({ title = 'Import a source', action = 'Import', onClose, onTake }: ImportSourcesProps) {
  const dispatch = useAppDispatch()
  const [chosen, setChosen] = useState<MediaEntry | null>(null)
  const { folder, found, problem, open, say } = useFolder(useCallback(() => setChosen(null), []))
  const id = useAppSelector((state) => state.shot.id) ?? ''
  const take = useCallback(
    (path: string) =>
      void proposeSource(id, path).then(
        (source) => {
          dispatch(shotActions.edited({ kind: 'add-source', source }))
          dispatch(shotActions.sourceSelected(source.id))
          onClose()
        },
        (error: Error) => say(error.message),
      ),
    [dispatch, id, onClose, say],
  )
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle variant="h2">{title}</DialogTitle>
      <DialogContent>
        <FolderPath folder={folder} onOpen={open} />
        {problem !== null && (
          <Typography role="alert" variant="body2" color="primary">
            {problem}
          </Typography>
        )}
        <Stack direction="row" spacing={2}>
          <FolderList found={found} height={listHeight} onOpen={open} chosen={chosen} onChoose={setChosen} />
          <Stack spacing={1} sx={{ width: 260, height: listHeight }}>
            {chosen ? (
              <Chosen
                key={joined(folder, chosen.pattern)}
                entry={chosen}
                folder={folder}
                action={action}
                onTake={onTake ?? take}
              />
            ) : (
              <Typography variant="body2" color="textSecondary">
                Choose a sequence, a file or a movie.
              </Typography>
            )}
          </Stack>
        </Stack>
        <UploadArea onArrived={open} />
      </DialogContent>
    </Dialog>
  )
}
