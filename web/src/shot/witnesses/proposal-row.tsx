/** Red, green and blue of what is proposed, each with its bar. */

import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import type { Sure } from '../../../../core/match'

export function ProposalRow({ label, values }: { label: string; values: readonly Sure[] }) {
  return (
    <Stack direction="row" role="group" aria-label={label} sx={{ gap: 0.5 }}>
      <Typography variant="caption" sx={{ width: 34 }}>
        {label}
      </Typography>
      {values.map(({ value, bar }, c) => (
        <Stack key={c} sx={{ flex: 1, textAlign: 'right' }}>
          <Typography variant="body2">{value.toFixed(4)}</Typography>
          <Typography variant="caption" color="textSecondary">
            {bar === 0 ? 'as it is' : `± ${bar.toFixed(4)}`}
          </Typography>
        </Stack>
      ))}
    </Stack>
  )
}
