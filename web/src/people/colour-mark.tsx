/** A person's colour beside their name. */

import Box from '@mui/material/Box'
import type { LabelColour } from '../../../core/shot'
import { labelTones } from '../shot/column/label-tones'

export function ColourMark({ colour }: { colour: LabelColour }) {
  return (
    <Box
      component="span"
      aria-hidden
      sx={{ display: 'inline-block', width: 8, height: 8, mr: 0.5, bgcolor: labelTones[colour] }}
    />
  )
}
