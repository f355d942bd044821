/** What was found for an element: values, bars, and what was left with the reason. */

import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import type { Matched, MatchedPart } from '../../../../core/witnesses'
import type { MatchedElement } from '../../store/selectors'

const labels: Readonly<Record<Matched, string>> = {
  softness: 'Softness, px',
  veil: 'Veil',
  gain: 'Gain',
  'plate veil': 'Plate veil',
  'shadow ratio': 'Shadowed / lit',
  'occlusion strength': 'Opacity',
}

export function MatchedRows({ element: { name, parts, left } }: { element: MatchedElement }) {
  const reasons = [...new Set(left.map(({ why }) => why))]
  return (
    <Stack
      role="group"
      aria-label={`Found for ${name}`}
      spacing={0.5}
      sx={{ borderTop: 1, borderColor: 'divider', pt: 0.75 }}
    >
      <Typography variant="body2">{name}</Typography>
      {parts.map((part) => (
        <Row key={part.what} part={part} />
      ))}
      {reasons.map((why) => (
        <Typography key={why} variant="caption" color="textSecondary">
          {left
            .filter((one) => one.why === why)
            .map(({ what }) => labels[what])
            .join(', ')}
          : left as it is, since {why}.
        </Typography>
      ))}
    </Stack>
  )
}

function Row({ part: { what, values, rests, surer } }: { part: MatchedPart }) {
  return (
    <Stack role="group" aria-label={labels[what]}>
      <Stack direction="row" sx={{ gap: 0.5 }}>
        <Typography variant="caption" sx={{ width: 64, flexShrink: 0 }}>
          {labels[what]}
        </Typography>
        {values.map(({ value, bar }, i) => (
          <Stack key={i} sx={{ flex: 1, maxWidth: 58, textAlign: 'right' }}>
            <Typography variant="body2">{value.toFixed(4)}</Typography>
            <Typography variant="caption" color="textSecondary">
              ± {bar.toFixed(4)}
            </Typography>
          </Stack>
        ))}
      </Stack>
      {surer !== null && (
        <Typography variant="caption">
          Not sure, from {rests.join(' and ')}. {surer}
        </Typography>
      )}
    </Stack>
  )
}
