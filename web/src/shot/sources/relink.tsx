/** Sources whose files are not where the shot looks for them: found again by their names, all at once. */

import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import MenuItem from '@mui/material/MenuItem'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import type { FoundFiles, MissingSource, SingleChange } from '../../../../core/shot'
import { useAppDispatch } from '../../store'
import { shotActions } from '../../store/shot-slice'

interface Choice {
  readonly taken: boolean
  readonly path: string
}

/** What is the same is taken; what may be another is left to the hand. */
const firstChoice = ({ found: [first] }: MissingSource): Choice => ({
  taken: first !== undefined && first.same !== false,
  path: first?.path ?? '',
})

export function Relink({ missing, onClose }: { missing: readonly MissingSource[]; onClose: () => void }) {
  const dispatch = useAppDispatch()
  const [choices, setChoices] = useState<Readonly<Record<string, Choice>>>({})
  const choiceOf = (one: MissingSource) => choices[one.source] ?? firstChoice(one)
  const filesOf = (one: MissingSource) => one.found.find(({ path }) => path === choiceOf(one).path)
  const taken = missing.filter((one) => choiceOf(one).taken && filesOf(one))
  const use = () => {
    const changes = taken.flatMap((one): SingleChange[] => {
      const files = filesOf(one)
      return files
        ? [
            {
              kind: 'set-source',
              source: one.source,
              changes: { path: files.path, firstFile: files.firstFile },
            },
          ]
        : []
    })
    const label = taken.length === 1 ? `Relink ${taken[0].name}` : `Relink ${taken.length} sources`
    if (changes.length > 0) dispatch(shotActions.edited({ kind: 'together', changes, label }))
    onClose()
  }
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle variant="h2">Files that are not there</DialogTitle>
      <DialogContent>
        <Stack component="ul" sx={{ m: 0, p: 0, listStyle: 'none', gap: 1.5 }}>
          {missing.map((one) => (
            <Missing
              key={one.source}
              one={one}
              choice={choiceOf(one)}
              onChoose={(choice) => setChoices({ ...choices, [one.source]: choice })}
            />
          ))}
        </Stack>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button variant="contained" disabled={taken.length === 0} onClick={use}>
          {taken.length === 1 ? 'Use them for one source' : `Use them for ${taken.length} sources`}
        </Button>
      </DialogActions>
    </Dialog>
  )
}

const sameWords = ({ same, frames }: FoundFiles) =>
  `${frames ? `frames ${frames.first} to ${frames.last}` : 'a still'}, ${same === true ? 'the same files' : same === false ? 'other content' : 'not compared'}`

function Missing({
  one: { source, name, path, found },
  choice,
  onChoose,
}: {
  one: MissingSource
  choice: Choice
  onChoose: (choice: Choice) => void
}) {
  const files = found.find((candidate) => candidate.path === choice.path)
  return (
    <Stack component="li" direction="row" sx={{ alignItems: 'flex-start' }}>
      <Checkbox
        size="small"
        checked={choice.taken && files !== undefined}
        disabled={!files}
        slotProps={{ input: { 'aria-label': `Relink ${name}` } }}
        onChange={({ target }) => onChoose({ ...choice, taken: target.checked })}
      />
      <Stack sx={{ flex: 1, minWidth: 0 }}>
        <Typography variant="body2">{name}</Typography>
        <Typography variant="caption" color="textSecondary" sx={{ overflowWrap: 'anywhere' }}>
          was {path}
        </Typography>
        {found.length === 0 ? (
          <Typography variant="caption" color="primary">
            No files of this name are in any folder of media. Copy them there, or choose other files on the card of the
            source.
          </Typography>
        ) : (
          <TextField
            select
            size="small"
            variant="standard"
            value={choice.path}
            slotProps={{ select: { 'aria-label': `Files for ${name}` } }}
            onChange={({ target }) => onChoose({ taken: true, path: target.value })}
          >
            {found.map((candidate) => (
              <MenuItem key={candidate.path} value={candidate.path} dense>
                {candidate.path}: {sameWords(candidate)}
              </MenuItem>
            ))}
          </TextField>
        )}
        {files?.sentence && (
          <Typography variant="caption" color={files.same === false ? 'primary' : 'textSecondary'} id={source}>
            {files.sentence}
          </Typography>
        )}
      </Stack>
    </Stack>
  )
}
