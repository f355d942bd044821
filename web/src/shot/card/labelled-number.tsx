/** A number that is no parameter: its words, and the number at the end of the line. */

import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import type { ReactElement } from 'react'
import { DragNumber } from './drag-number'

interface LabelledNumberProps {
  /** as it is seen */
  readonly text: string
  /** what it is called where that tells more; absent: the text */
  readonly label?: string
  readonly value: number
  readonly step: number
  readonly least: number
  readonly most: number
  readonly digits: number
  readonly onCommit: (value: number) => void
}

export function LabelledNumber({ text, label = text, onCommit, digits, ...rest }: LabelledNumberProps): ReactElement {
  return (
    <Stack direction="row" sx={{ alignItems: 'center', gap: 1 }}>
      <Typography variant="body2" sx={{ flex: 1 }}>
        {text}
      </Typography>
      <DragNumber
        {...rest}
        label={label}
        digits={digits}
        onChange={() => undefined}
        onCommit={(value) => onCommit(digits === 0 ? Math.round(value) : value)}
      />
    </Stack>
  )
}
