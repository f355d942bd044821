/** Fields of a source's card: a claim in three voices, a choice, a whole number. */

import Box from '@mui/material/Box'
import MenuItem from '@mui/material/MenuItem'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useState, type ReactNode } from 'react'
import type { Voices } from '../../../../core/check'

interface Choice<T> {
  readonly value: T
  readonly text: string
}

export function Choose<T extends string | number>({
  label,
  value,
  choices,
  onChoose,
}: {
  label: string
  value: T
  choices: readonly Choice<T>[]
  onChoose: (value: T) => void
}) {
  return (
    <TextField
      select
      fullWidth
      size="small"
      variant="standard"
      value={value}
      onChange={(event) => onChoose(choices.find(({ value: v }) => String(v) === event.target.value)?.value ?? value)}
      slotProps={{ htmlInput: { 'aria-label': label }, select: { 'aria-label': label } }}
    >
      {choices.map((choice) => (
        <MenuItem key={String(choice.value)} value={choice.value} dense>
          {choice.text}
        </MenuItem>
      ))}
    </TextField>
  )
}

/** file says, pixels say, you say */
export const voiceColumns = '66px 66px minmax(0, 1fr)'

/** A claim: the three voices side by side, marked where they do not agree. */
export function Claim({
  voices,
  action,
  children,
}: {
  voices: Voices | undefined
  action?: ReactNode
  children?: ReactNode
}) {
  if (!voices) return null
  const { claim, file, pixels, you, agree } = voices
  return (
    <Box role="group" aria-label={`${claim}, ${agree ? 'agrees' : 'does not agree'}`}>
      <Stack direction="row" sx={{ justifyContent: 'space-between', alignItems: 'center' }}>
        <Typography variant="body2">
          {claim}
          {agree ? '' : ' ■'}
        </Typography>
        {action}
      </Stack>
      <Box sx={{ display: 'grid', gridTemplateColumns: voiceColumns, columnGap: 0.75, alignItems: 'baseline' }}>
        <Typography variant="caption" color="textSecondary">
          {file ?? '–'}
        </Typography>
        <Typography variant="caption" color="textSecondary">
          {pixels ?? '–'}
        </Typography>
        {children ?? <Typography variant="body2">{you}</Typography>}
      </Box>
    </Box>
  )
}

export function WholeNumber({ label, value, onSet }: { label: string; value: number; onSet: (value: number) => void }) {
  const [typed, setTyped] = useState<string | null>(null)
  const finish = () => {
    const number = Number(typed)
    if (typed !== null && typed.trim() !== '' && Number.isInteger(number)) onSet(number)
    setTyped(null)
  }
  return (
    <TextField
      size="small"
      variant="standard"
      label={label}
      value={typed ?? String(value)}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={finish}
      onKeyDown={(event) => event.key === 'Enter' && finish()}
      sx={{ width: 84 }}
    />
  )
}
