/** The brush of a painted matte. */

import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import MenuItem from '@mui/material/MenuItem'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { allOf, strokesOutside, strokeWays, type PaintedMatte, type StrokeWay } from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument, selectFrame } from '../../store/selectors'
import { viewChanged } from '../../store/view'
import type { OutliningState } from '../../store/view/state'
import { LabelledNumber } from '../card/labelled-number'

const narrow = { minWidth: 0, px: 0.6, py: 0 } as const
const ways: Readonly<Record<StrokeWay, string>> = { add: 'adds', subtract: 'erases', soften: 'softens' }
const numbers = [
  { name: 'radius', label: 'Radius, px', step: 0.5, least: 0.25, most: 1000, digits: 1 },
  { name: 'hardness', label: 'Hardness', step: 0.01, least: 0, most: 1, digits: 2 },
] as const

export function Painting({ matte }: { matte: PaintedMatte }) {
  const dispatch = useAppDispatch()
  const tool = useAppSelector((state) => state.view.screen.tool)
  const brush = useAppSelector((state) => state.view.outlining.brush)
  const set = (changes: Partial<OutliningState['brush']>) =>
    dispatch(viewChanged({ outlining: { brush: { ...brush, ...changes } } }))
  const count = allOf(matte.strokes).length
  const odd = useAppSelector((state) => {
    const shot = selectDocument(state)
    return shot && strokesOutside(shot, matte, selectFrame(state))
  })
  return (
    <Stack role="group" aria-label="Brush" spacing={0.75}>
      <Stack direction="row" sx={{ ml: -0.6 }}>
        <Button
          sx={narrow}
          aria-pressed={tool === 'brush'}
          onClick={() => dispatch(viewChanged({ screen: { tool: tool === 'brush' ? 'look' : 'brush' } }))}
        >
          {tool === 'brush' ? 'Put the brush away' : 'Paint'}
        </Button>
      </Stack>
      {numbers.map(({ name, label, ...rest }) => (
        <LabelledNumber
          key={name}
          text={label}
          value={brush[name]}
          {...rest}
          onCommit={(value) => set({ [name]: value })}
        />
      ))}
      <Stack direction="row" spacing={1} sx={{ alignItems: 'flex-end' }}>
        <TextField
          select
          size="small"
          variant="standard"
          label="The brush"
          sx={{ flex: 1 }}
          value={brush.how}
          onChange={({ target }) => set({ how: target.value as StrokeWay })}
        >
          {strokeWays.map((how) => (
            <MenuItem key={how} value={how} dense>
              {ways[how]}
            </MenuItem>
          ))}
        </TextField>
        <FormControlLabel
          sx={{ my: -0.5 }}
          slotProps={{ typography: { variant: 'body2' } }}
          control={<Checkbox size="small" checked={brush.onlyHere} onChange={(_event, on) => set({ onlyHere: on })} />}
          label="On this frame only"
        />
      </Stack>
      {odd !== null && <Typography variant="caption">{odd}</Typography>}
      <Typography variant="caption" color="textSecondary">
        {count === 0
          ? 'Nothing painted yet: it covers nothing. Drag on the picture with the brush in hand.'
          : `${count} ${count === 1 ? 'stroke' : 'strokes'}. Undo takes the last one away.`}
      </Typography>
    </Stack>
  )
}
