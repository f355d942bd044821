/** Files dragged in: sent in pieces, and taken up again where they were cut. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import LinearProgress from '@mui/material/LinearProgress'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { useRef, useState } from 'react'
import { useDropzone } from 'react-dropzone'
import { DetailedError, Upload } from 'tus-js-client'
import { ownPage, uploadsPath } from '../api/client'

/** Bytes of a piece: what is lost at most when the line is cut. */
const pieceBytes = 8 * 2 ** 20
const retries = [0, 1000, 3000, 10_000]

interface Sending {
  readonly files: number
  readonly done: number
  readonly bytes: number
  readonly sent: number
  readonly startedAt: number
  readonly name: string
  readonly problem: string | null
}

/** The server's own sentence, if it answered with one. */
function sentenceOf(name: string, error: Error): string {
  const said = error instanceof DetailedError ? error.originalResponse?.getBody() : undefined
  if (said) return said
  return `${name} was cut while it was sent. Nothing is lost: drag it in again and it goes on where it stopped.`
}

function sendFile(file: File, batch: string, onSent: (bytes: number) => void): Promise<void> {
  return new Promise((resolve, reject) => {
    const upload = new Upload(file, {
      endpoint: uploadsPath,
      chunkSize: pieceBytes,
      headers: ownPage,
      retryDelays: retries,
      metadata: { filename: file.name, batch },
      removeFingerprintOnSuccess: true,
      onProgress: onSent,
      onSuccess: () => resolve(),
      onError: reject,
    })
    // One that was cut before, even by a reload, goes on.
    void upload.findPreviousUploads().then(([before]) => {
      if (before) upload.resumeFromPreviousUpload(before)
      upload.start()
    })
  })
}

const megabytes = (bytes: number) => `${(bytes / 1e6).toFixed(bytes < 1e7 ? 1 : 0)} MB`

/** @param onArrived called with the folder of the media store in which the files lie */
export function UploadArea({ onArrived }: { onArrived: (folder: string) => void }) {
  const [sending, setSending] = useState<Sending | null>(null)
  const stopped = useRef(false)
  const send = async (files: readonly File[]) => {
    if (files.length === 0) return
    stopped.current = false
    const batch = files[0].name.replace(/\.[A-Za-z0-9]+$/, '').replace(/[._-]?\d+$/, '') || 'files'
    const bytes = files.reduce((sum, file) => sum + file.size, 0)
    let [before, done] = [0, 0]
    const startedAt = Date.now()
    const say = (name: string, sent: number, problem: string | null = null) =>
      setSending({ files: files.length, done, bytes, sent: before + sent, startedAt, name, problem })
    for (const file of files) {
      if (stopped.current) return
      say(file.name, 0)
      try {
        await sendFile(file, batch, (sent) => say(file.name, sent))
      } catch (error) {
        say(file.name, 0, sentenceOf(file.name, error as Error))
        return
      }
      before += file.size
      done++
    }
    say('', 0)
    onArrived(`imported/${batch.replace(/[^\w.-]+/g, '_')}`)
  }
  const { getRootProps, getInputProps, isDragActive } = useDropzone({ onDrop: (files) => void send(files) })
  const busy = sending !== null && sending.problem === null && sending.done < sending.files
  const seconds = sending ? (Date.now() - sending.startedAt) / 1000 : 0
  const left = sending && sending.sent > 0 ? (seconds / sending.sent) * (sending.bytes - sending.sent) : null
  return (
    <Stack spacing={0.5} sx={{ mt: 1.5 }}>
      <Box
        {...getRootProps()}
        sx={{
          p: 1.5,
          border: '1px dashed',
          borderColor: isDragActive ? 'primary.main' : 'divider',
          textAlign: 'center',
          cursor: 'pointer',
        }}
      >
        <input {...getInputProps()} aria-label="Files to import" />
        <Typography variant="body2" color="textSecondary">
          Drag files in here, or click to choose them. They are laid into the media store.
        </Typography>
      </Box>
      {sending && (
        <Stack direction="row" spacing={1} sx={{ alignItems: 'center' }} role="status">
          <Box sx={{ flex: 1 }}>
            <LinearProgress variant="determinate" value={(100 * sending.sent) / Math.max(1, sending.bytes)} />
            <Typography variant="caption" role={sending.problem === null ? undefined : 'alert'}>
              {sending.problem ??
                (busy
                  ? `${sending.name}: ${megabytes(sending.sent)} of ${megabytes(sending.bytes)}${left === null ? '' : `, about ${left.toFixed(0)} s to go`}`
                  : `${sending.files} ${sending.files === 1 ? 'file has' : 'files have'} arrived.`)}
            </Typography>
          </Box>
          {busy && <Button onClick={() => (stopped.current = true)}>Stop after this file</Button>}
        </Stack>
      )}
    </Stack>
  )
}
