/** A part of a card that folds; folded, a line says what is in it. */

import Box from '@mui/material/Box'
import ButtonBase from '@mui/material/ButtonBase'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { useState, type ReactNode } from 'react'

interface SectionProps {
  readonly name: string
  /** what is in it, when it is folded */
  readonly summary: string
  readonly open?: boolean
  readonly children: ReactNode
}

export function Section({ name, summary, open: first = false, children }: SectionProps) {
  const [open, setOpen] = useState(first)
  return (
    <Box sx={{ borderTop: 1, borderColor: 'divider', pt: 0.5 }}>
      <ButtonBase
        aria-expanded={open}
        onClick={() => setOpen(!open)}
        sx={{ display: 'flex', width: '100%', gap: 0.75, justifyContent: 'flex-start', py: 0.25 }}
      >
        <Typography variant="body2">
          {open ? '▾' : '▸'} {name}
        </Typography>
        {!open && (
          <Typography variant="caption" color="textSecondary" noWrap>
            {summary}
          </Typography>
        )}
      </ButtonBase>
      {open && (
        <Stack spacing={1} sx={{ pt: 0.5 }}>
          {children}
        </Stack>
      )}
    </Box>
  )
}
