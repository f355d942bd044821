/** A shot file that somebody has saved becomes a shot again; its paths start at the folder that is open. */

import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { useDropzone } from 'react-dropzone'
import { openShotFile } from '../api/client'

interface Read {
  readonly document: Record<string, unknown>
  readonly name: string
}

export function OpenShotFile({ folder, onOpened }: { folder: string; onOpened: (id: string) => void }) {
  const [read, setRead] = useState<Read | null>(null)
  const [problem, setProblem] = useState<string | null>(null)
  const send = (document: Record<string, unknown>, name: string) =>
    openShotFile({ ...document, name }, folder).then(
      ({ id }) => onOpened(id),
      (error: Error) => {
        setRead({ document, name })
        setProblem(error.message)
      },
    )
  const take = async ([file]: readonly File[]) => {
    if (!file) return
    try {
      const document = JSON.parse(await file.text()) as Record<string, unknown>
      await send(document, String(document.name ?? ''))
    } catch (error) {
      setProblem(`${file.name} is no shot file: it is not JSON (${(error as Error).message}).`)
    }
  }
  const { getRootProps, getInputProps, open } = useDropzone({
    onDrop: (files) => void take(files),
    noClick: true,
    multiple: false,
  })
  return (
    <Stack spacing={1} {...getRootProps()}>
      <input {...getInputProps()} aria-label="Shot file" />
      <Stack direction="row" spacing={1} sx={{ alignItems: 'center' }}>
        <Button variant="outlined" onClick={open}>
          Open a shot file
        </Button>
        <Typography variant="caption" color="textSecondary">
          Its files are looked for from the folder that is open: {folder === '' ? 'media' : folder}.
        </Typography>
      </Stack>
      {problem !== null && (
        <Typography role="alert" variant="body2" color="primary">
          {problem}
        </Typography>
      )}
      {read && (
        <Stack direction="row" spacing={1}>
          <TextField
            size="small"
            label="Name of the shot"
            value={read.name}
            onChange={({ target }) => setRead({ ...read, name: target.value })}
          />
          <Button onClick={() => void send(read.document, read.name)}>Open under this name</Button>
        </Stack>
      )}
    </Stack>
  )
}
