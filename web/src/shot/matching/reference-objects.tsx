/** Balls and charts that were shot where a render is to stand: which there are, and telling of another. */

import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import {
  allOf,
  find,
  inOrder,
  lastRank,
  mediaKind,
  newId,
  type ReferenceObject,
  type Source,
} from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'

export function ReferenceObjects() {
  const dispatch = useAppDispatch()
  const shot = useAppSelector(selectDocument)
  const [adding, setAdding] = useState(false)
  if (!shot) return null
  const objects = inOrder(shot.referenceObjects)
  const nameOf = (id: string) => find(shot.sources, id)?.name ?? 'a source that is gone'
  return (
    <Stack role="group" aria-label="Shot for reference" spacing={0.25}>
      <Typography variant="caption" color="textSecondary">
        {objects.length === 0
          ? 'A ball or chart that was shot in the place of a render, and its own render, tell veil, gain and softness.'
          : 'Shot for reference'}
      </Typography>
      {objects.map((object) => (
        <Stack key={object.id} direction="row" sx={{ alignItems: 'center', justifyContent: 'space-between' }}>
          <Typography
            variant="body2"
            noWrap
            title={`${nameOf(object.photographed)}; ${nameOf(object.rendered)}, in place of ${nameOf(object.insteadOf)}`}
          >
            {object.name}
          </Typography>
          <Button
            aria-label={`Remove reference object ${object.name}`}
            sx={{ py: 0 }}
            onClick={() =>
              dispatch(shotActions.edited({ kind: 'remove-reference-object', referenceObject: object.id }))
            }
          >
            Remove
          </Button>
        </Stack>
      ))}
      {adding ? (
        <Form
          sources={allOf(shot.sources).filter(({ path }) => mediaKind(path) === 'picture')}
          onEnd={(made) => {
            setAdding(false)
            if (!made) return
            const referenceObject = { ...made, id: newId(), rank: lastRank(objects) }
            dispatch(shotActions.edited({ kind: 'add-reference-object', referenceObject }))
          }}
        />
      ) : (
        <Button sx={{ alignSelf: 'flex-start', ml: -0.6, py: 0 }} onClick={() => setAdding(true)}>
          Add a ball or chart
        </Button>
      )}
    </Stack>
  )
}

type Made = Omit<ReferenceObject, 'id' | 'rank'>
const fields = [
  { name: 'photographed', label: 'Photographed' },
  { name: 'rendered', label: 'Its render' },
  { name: 'insteadOf', label: 'In place of the render' },
] as const

function Form({ sources, onEnd }: { sources: readonly Source[]; onEnd: (made: Made | null) => void }) {
  const [made, setMade] = useState<Made>({ name: '', photographed: '', rendered: '', insteadOf: '' })
  const chosen = fields.map(({ name }) => made[name])
  const complete = made.name.trim() !== '' && chosen.every((one) => one !== '') && new Set(chosen).size === 3
  return (
    <Stack spacing={0.75} sx={{ pt: 0.5 }}>
      <TextField
        size="small"
        variant="standard"
        label="Name"
        value={made.name}
        onChange={({ target }) => setMade({ ...made, name: target.value })}
      />
      {fields.map(({ name, label }) => (
        <TextField
          key={name}
          select
          size="small"
          variant="standard"
          label={label}
          value={made[name]}
          onChange={({ target }) => setMade({ ...made, [name]: target.value })}
        >
          {sources.map((source) => (
            <MenuItem key={source.id} value={source.id} dense>
              {source.name}
            </MenuItem>
          ))}
        </TextField>
      ))}
      <Stack direction="row" sx={{ ml: -0.6 }}>
        <Button disabled={!complete} onClick={() => onEnd({ ...made, name: made.name.trim() })}>
          Add
        </Button>
        <Button onClick={() => onEnd(null)}>Cancel</Button>
      </Stack>
    </Stack>
  )
}
