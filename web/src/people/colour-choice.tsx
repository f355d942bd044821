/** A row of muted colours, one of which may be chosen; chosen again, none is. */

import Box from '@mui/material/Box'
import ButtonBase from '@mui/material/ButtonBase'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { labelColours, type LabelColour } from '../../../core/shot'
import { labelTones } from '../shot/column/label-tones'

interface ColourChoiceProps {
  readonly name: string
  readonly value: LabelColour | null
  readonly onChoose: (colour: LabelColour | null) => void
}

export function ColourChoice({ name, value, onChoose }: ColourChoiceProps) {
  return (
    <Stack direction="row" role="group" aria-label={name} sx={{ alignItems: 'center', gap: 0.75 }}>
      <Typography variant="caption" color="textSecondary">
        {name}
      </Typography>
      {labelColours.map((colour) => (
        <ButtonBase
          key={colour}
          aria-label={colour}
          aria-pressed={value === colour}
          title={colour}
          onClick={() => onChoose(value === colour ? null : colour)}
          sx={{ p: '2px', border: 1, borderColor: value === colour ? 'text.primary' : 'transparent' }}
        >
          <Box sx={{ width: 16, height: 12, bgcolor: labelTones[colour] }} />
        </ButtonBase>
      ))}
    </Stack>
  )
}
