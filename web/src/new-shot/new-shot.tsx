/** A new shot from files: choose a folder or single clips, see what each is taken to be, answer what is open. */

import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import LinearProgress from '@mui/material/LinearProgress'
import Link from '@mui/material/Link'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { useCallback, useState } from 'react'
import { Link as RouterLink, useNavigate } from 'react-router'
import { proposeNewShot, type ProposedShot } from '../api/client'
import { FolderList, FolderPath } from '../media/folder-list'
import { UploadArea } from '../media/upload-area'
import { useFolder } from '../media/use-folder'
import { OpenShotFile } from './open-shot-file'
import { ProposalForm } from './proposal-form'

interface Looking {
  readonly paths: readonly string[]
  readonly found: ProposedShot | null
}

const listHeight = 360

export function NewShot() {
  const [ticked, setTicked] = useState<readonly string[]>([])
  const [looking, setLooking] = useState<Looking | null>(null)
  const { folder, found, problem, open, say } = useFolder(useCallback(() => setTicked([]), []))
  const navigate = useNavigate()
  const opened = (id: string) => void navigate(`/shots/${id}`)
  const look = (paths: readonly string[]) => {
    setLooking({ paths, found: null })
    proposeNewShot(paths).then(
      (proposed) => setLooking({ paths, found: proposed }),
      (error: Error) => {
        setLooking(null)
        say(error.message)
      },
    )
  }
  const tick = (path: string) =>
    setTicked((before) => (before.includes(path) ? before.filter((one) => one !== path) : [...before, path]))
  const here = folder === '' ? 'media' : folder
  return (
    <Box sx={{ height: '100vh', overflow: 'auto' }}>
      <Stack spacing={1.5} sx={{ maxWidth: 1120, mx: 'auto', p: 3 }}>
        <Stack direction="row" spacing={1.5} sx={{ alignItems: 'baseline' }}>
          <Link component={RouterLink} to="/" underline="hover" color="textSecondary">
            shots
          </Link>
          <Typography variant="h1">New shot</Typography>
        </Stack>
        {problem !== null && (
          <Alert severity="warning" variant="outlined">
            {problem}
          </Alert>
        )}
        {looking?.found ? (
          <ProposalForm
            paths={looking.paths}
            proposed={looking.found}
            onMade={opened}
            onBack={() => setLooking(null)}
            onDecoded={(pattern) => look([...looking.paths, pattern])}
          />
        ) : looking ? (
          <Box role="status">
            <Typography sx={{ mb: 1 }}>Looking at the files …</Typography>
            <LinearProgress />
          </Box>
        ) : (
          <>
            <Typography color="textSecondary">
              Open the folder of the shot, or tick single clips. The next step shows what each file is taken to be.
            </Typography>
            <Stack direction="row" sx={{ justifyContent: 'space-between', alignItems: 'center' }}>
              <FolderPath folder={folder} onOpen={open} />
              <Button variant="contained" disabled={!found} onClick={() => look(ticked.length > 0 ? ticked : [folder])}>
                {ticked.length > 0
                  ? `Use ${ticked.length === 1 ? 'the ticked clip' : `the ${ticked.length} ticked clips`}`
                  : `Use everything in ${here}`}
              </Button>
            </Stack>
            <FolderList found={found} height={listHeight} onOpen={open} ticked={ticked} onTick={tick} />
            <UploadArea
              onArrived={(arrived) => {
                open(arrived)
                look([arrived])
              }}
            />
            <OpenShotFile folder={folder} onOpened={opened} />
          </>
        )}
      </Stack>
    </Box>
  )
}
