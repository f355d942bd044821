/** What the files are taken to be, and what the shot would be: everything can be answered otherwise. */

import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { workingSpaces, primaries, type WorkingSpace } from '../../../core/colour'
import { clipAt, framesFor, remarksOn, workingSpaceFor, type Answers } from '../../../core/new-shot'
import { makeNewShot, type ProposedShot } from '../api/client'
import { ClipTable } from './clip-table'

interface ProposalFormProps {
  readonly paths: readonly string[]
  readonly proposed: ProposedShot
  readonly onMade: (id: string) => void
  readonly onBack: () => void
  /** a movie has become a sequence of this name */
  readonly onDecoded: (pattern: string) => void
}

const spaces = Object.keys(workingSpaces) as WorkingSpace[]

/** `24`, `23.976` as `24000/1001`. */
const rateText = ({ numerator, denominator }: Answers['rate']) =>
  denominator === 1 ? String(numerator) : `${numerator}/${denominator}`

function parsedRate(text: string): Answers['rate'] | null {
  const [numerator, denominator = 1, ...rest] = text.split('/').map((part) => Number(part.trim()))
  const whole = Number.isInteger(numerator) && Number.isInteger(denominator)
  return rest.length === 0 && whole && numerator > 0 && denominator > 0 ? { numerator, denominator } : null
}

export function ProposalForm({
  paths,
  proposed: { proposal, answers: usual },
  onMade,
  onBack,
  onDecoded,
}: ProposalFormProps) {
  const [answers, setAnswers] = useState<Answers>({ ...usual, plate: proposal.plates.length === 1 ? usual.plate : '' })
  const [rate, setRate] = useState(proposal.rate ? rateText(proposal.rate) : '')
  const [handles, setHandles] = useState('0')
  const [problem, setProblem] = useState<string | null>(null)
  const [making, setMaking] = useState(false)
  const change = (changes: Partial<Answers>) => setAnswers((before) => ({ ...before, ...changes }))
  const parsed = parsedRate(rate)
  const maps = proposal.clips.filter(({ role }) => role === 'map')
  const plate = clipAt(proposal, answers.plate)
  const counted = /^\d{1,6}$/.test(handles) ? Number(handles) : null
  const range = plate && framesFor(proposal, plate, counted ?? 0)
  const make = () => {
    if (!parsed || counted === null) return
    setMaking(true)
    makeNewShot(paths, { ...answers, rate: parsed, handles: counted }).then(
      ({ id }) => onMade(id),
      (error: Error) => {
        setMaking(false)
        setProblem(error.message)
      },
    )
  }
  const choosePlate = (path: string) => {
    const claims = clipAt(proposal, path)?.claims
    change({ plate: path, ...(claims ? { workingSpace: workingSpaceFor(claims) } : {}) })
  }
  return (
    <Stack spacing={1.5} component="form" aria-label="New shot" onSubmit={(event) => (event.preventDefault(), make())}>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, '& > *': { width: 150 } }}>
        <TextField
          size="small"
          label="Name"
          value={answers.name}
          onChange={({ target }) => change({ name: target.value })}
        />
        {proposal.plates.length > 1 && (
          <TextField
            select
            size="small"
            label="Which is the plate?"
            value={answers.plate}
            sx={{ '&&': { width: 300 } }}
            onChange={({ target }) => choosePlate(target.value)}
          >
            {proposal.plates.map((path) => (
              <MenuItem key={path} value={path}>
                {path}
              </MenuItem>
            ))}
          </TextField>
        )}
        <TextField
          size="small"
          label="Frames a second"
          value={rate}
          error={rate !== '' && !parsed}
          helperText={proposal.rate ? proposal.rateFrom : 'The files do not say it.'}
          onChange={({ target }) => setRate(target.value)}
        />
        <TextField
          size="small"
          label="Handles"
          value={handles}
          error={counted === null}
          helperText={range ? `frames ${range.first} to ${range.last}` : 'frames at each end'}
          onChange={({ target }) => setHandles(target.value)}
        />
        <TextField
          size="small"
          label="Frame size"
          value={plate?.size ? `${plate.size.width} x ${plate.size.height}` : ''}
          helperText="as the plate"
          slotProps={{ input: { readOnly: true } }}
        />
        <TextField
          select
          size="small"
          label="Working space"
          value={answers.workingSpace}
          sx={{ '&&': { width: 190 } }}
          onChange={({ target }) => change({ workingSpace: target.value as WorkingSpace })}
        >
          {spaces.map((space) => (
            <MenuItem key={space} value={space}>
              {primaries[workingSpaces[space]].label}, linear
            </MenuItem>
          ))}
        </TextField>
        {maps.length > 0 && (
          <TextField
            select
            size="small"
            label="Renders are bent by"
            value={answers.bentBy ?? ''}
            sx={{ '&&': { width: 200 } }}
            onChange={({ target }) => change({ bentBy: target.value === '' ? null : target.value })}
          >
            <MenuItem value="">no map</MenuItem>
            {maps.map(({ path, name }) => (
              <MenuItem key={path} value={path}>
                {name}
              </MenuItem>
            ))}
          </TextField>
        )}
      </Box>
      {proposal.plates.length === 0 && (
        <Alert severity="warning" variant="outlined">
          Nothing here can be the plate: it is a sequence, or a picture, that is opaque everywhere. Go back and choose
          another folder.
        </Alert>
      )}
      {plate &&
        remarksOn(proposal, { ...answers, handles: counted ?? 0 }).map((remark) => (
          <Typography key={remark} variant="body2">
            {remark}
          </Typography>
        ))}
      <ClipTable
        clips={proposal.clips}
        plate={answers.plate}
        without={answers.without}
        onChange={(without) => change({ without })}
        onDecoded={onDecoded}
      />
      {problem !== null && (
        <Alert severity="warning" variant="outlined">
          {problem}
        </Alert>
      )}
      <Stack direction="row" spacing={1.5} sx={{ alignItems: 'center' }}>
        <Button type="submit" variant="contained" disabled={making || !plate || !parsed || counted === null}>
          Make the shot
        </Button>
        <Button onClick={onBack}>Choose other files</Button>
        {!plate && proposal.plates.length > 1 && (
          <Typography variant="body2">Say which sequence is the plate.</Typography>
        )}
        {plate && !parsed && <Typography variant="body2">Say how many frames a second it has.</Typography>}
      </Stack>
    </Stack>
  )
}
