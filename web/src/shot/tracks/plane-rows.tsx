/** A region as a flat rectangle of the scene: its shape, as its perspective tells it or as it is typed, and a grid of squares on it. */

import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { useMemo } from 'react'
import { planeTold, type PlaneShape, type Track } from '../../../../core/shot'
import { useAppSelector } from '../../store'
import { selectDocument } from '../../store/selectors'
import { CameraOfPlane } from './camera-of-plane'
import { LabelledNumber } from '../card/labelled-number'
import { toldWords } from './track-words'

const usualSquares = 8

interface PlaneRowsProps {
  readonly corners: readonly Track[]
  /** null: nothing is known of it any more */
  readonly onSet: (plane: PlaneShape | null) => void
}

export function PlaneRows({ corners, onSet }: PlaneRowsProps) {
  const shot = useAppSelector(selectDocument)
  const told = useMemo(() => (shot ? planeTold(shot, corners) : null), [shot, corners])
  const plane = corners[0].region?.plane ?? {}
  const { ratio, height, squares, turn = 0 } = plane
  const set = (changes: PlaneShape) => onSet({ ...plane, ...changes })
  return (
    <Stack spacing={0.5} sx={{ borderLeft: 1, borderColor: 'divider', pl: 0.75 }}>
      <Typography variant="body2">As a flat rectangle of the scene</Typography>
      <LabelledNumber
        text="Width over height"
        value={ratio ?? told?.ratio ?? 1}
        step={0.01}
        least={0.01}
        most={100}
        digits={2}
        onCommit={(value) => set({ ratio: value })}
      />
      <Typography variant="caption" color="textSecondary">
        {toldWords(told, ratio)}
      </Typography>
      {ratio !== undefined && (
        <Button
          sx={{ minWidth: 0, px: 0.6, py: 0, alignSelf: 'flex-start', ml: -0.6 }}
          onClick={() => {
            const { ratio: _typed, ...rest } = plane
            onSet(Object.keys(rest).length > 0 ? rest : null)
          }}
        >
          Take it from the perspective
        </Button>
      )}
      <LabelledNumber
        text="Height in metres"
        value={height ?? 1}
        step={0.1}
        least={0.001}
        most={100_000}
        digits={2}
        onCommit={(value) => set({ height: value })}
      />
      <FormControlLabel
        control={
          <Checkbox
            size="small"
            checked={squares !== undefined}
            onChange={({ target }) => {
              const { squares: _shown, ...rest } = plane
              onSet(target.checked ? { ...plane, squares: usualSquares } : Object.keys(rest).length > 0 ? rest : null)
            }}
          />
        }
        label="Show a grid of squares on it"
        slotProps={{ typography: { variant: 'caption' } }}
      />
      {squares !== undefined && (
        <LabelledNumber
          text="Squares across"
          value={squares}
          step={1}
          least={1}
          most={100}
          digits={0}
          onCommit={(value) => set({ squares: value })}
        />
      )}
      <LabelledNumber
        text="Turned by, degrees"
        value={turn}
        step={1}
        least={-180}
        most={180}
        digits={1}
        onCommit={(value) => set({ turn: value })}
      />
      <CameraOfPlane key={corners[0].id} corners={corners} />
    </Stack>
  )
}
