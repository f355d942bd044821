/** Which curve is which, and what can be done with the chosen keyframes. */

import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import {
  beyonds,
  keyframesOf,
  rateOf,
  steadily,
  valueAt,
  ways,
  type BeyondKeyframes,
  type Way,
} from '../../../../core/motion/curve'
import {
  withBeyond,
  withoutKeyframes,
  withWay,
  type Change,
  type ChosenKeyframe,
  type KeyedCurve,
} from '../../../../core/shot'
import { useAppSelector } from '../../store'
import { selectDocument } from '../../store/selectors'
import { dashes, drawnHeight } from './curve-scale'
import { namesWidth } from './time-axis'

const wayWords: Readonly<Record<Way, string>> = {
  monotone: 'smooth, never beyond',
  smooth: 'smooth, with handles',
  straight: 'straight',
  level: 'level until the next',
  gentle: 'gently from stop to stop',
  'gentle-start': 'gently from a stop',
  'gentle-end': 'gently to a stop',
  pop: 'pops beyond and settles',
}
const beyondWords: Readonly<Record<BeyondKeyframes | 'level', string>> = {
  level: 'level',
  repeat: 'again and again',
  'ping-pong': 'to and fro',
  'go-on': 'on at its slope',
}

interface LegendProps {
  readonly curves: readonly KeyedCurve[]
  readonly chosen: readonly ChosenKeyframe[]
  readonly documentCurves: () => readonly KeyedCurve[]
  readonly make: (edit: Change | null) => void
}

export function Legend({ curves, chosen, documentCurves, make }: LegendProps) {
  const rate = useAppSelector((state) => selectDocument(state)?.rate)
  const frame = useAppSelector((state) => state.view.playing.frame)
  const ids = [...new Set(chosen.map(({ curve }) => curve))]
  const [first] = chosen
  const firstCurve = first && curves.find(({ id }) => id === first.curve)
  const way = firstCurve && keyframesOf(firstCurve.curve).find((one) => one.frame === first.frame)?.to
  const beyond = firstCurve && typeof firstCurve.curve !== 'number' ? (firstCurve.curve.beyond ?? 'level') : 'level'
  const perSecond = rate ? rate.numerator / rate.denominator : 24
  const steady = firstCurve ? rateOf(firstCurve.curve) : null
  const field = { select: true, size: 'small', variant: 'standard', fullWidth: true } as const
  const goSteadily = () => {
    if (!firstCurve) return
    const { at, curve, known } = firstCurve
    const next = steadily(frame, valueAt(curve, frame), known.step * 10)
    const gone = Object.fromEntries(keyframesOf(curve).map((one) => [one.frame, null]))
    if (typeof next !== 'number')
      make({ kind: 'set-keyframes', curves: [{ at, keyframes: { ...gone, ...next.keyframes }, beyond: 'go-on' }] })
  }
  const setRate = (value: number) => {
    if (!firstCurve) return
    const { at, curve } = firstCurve
    const [one] = keyframesOf(curve)
    const next = steadily(one.frame, one.value, value / perSecond)
    if (typeof next !== 'number')
      make({ kind: 'set-keyframes', curves: [{ at, keyframes: next.keyframes, beyond: 'go-on' }] })
  }
  return (
    <Stack
      sx={{
        width: namesWidth,
        flexShrink: 0,
        px: 1.2,
        py: 0.5,
        overflowY: 'auto',
        maxHeight: drawnHeight,
        '& > *': { flexShrink: 0 },
      }}
    >
      {chosen.length === 0 ? (
        curves.map(({ id, label }, i) => (
          <Stack key={id} direction="row" sx={{ alignItems: 'center', gap: 0.5 }}>
            <svg width={20} height={8} aria-hidden>
              <line x1={0} x2={20} y1={4} y2={4} stroke="currentColor" strokeDasharray={dashes[i % dashes.length]} />
            </svg>
            <Typography variant="caption" color="textSecondary" noWrap title={label}>
              {label}
            </Typography>
          </Stack>
        ))
      ) : (
        <>
          <Typography variant="caption" noWrap>
            {chosen.length === 1 && firstCurve ? `${first.frame}, ${firstCurve.label}` : `${chosen.length} keyframes`}
          </Typography>
          <TextField
            {...field}
            label="Goes on"
            value={way ?? 'monotone'}
            onChange={({ target: { value } }) => make(withWay(documentCurves(), chosen, value as Way))}
          >
            {ways.map((one) => (
              <MenuItem key={one} value={one} dense>
                {wayWords[one]}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            {...field}
            label="Beyond its keyframes"
            value={beyond}
            onChange={({ target: { value } }) =>
              make(withBeyond(documentCurves(), ids, value === 'level' ? null : (value as BeyondKeyframes)))
            }
          >
            {(['level', ...beyonds] as const).map((one) => (
              <MenuItem key={one} value={one} dense>
                {beyondWords[one]}
              </MenuItem>
            ))}
          </TextField>
          {steady !== null ? (
            <TextField
              size="small"
              variant="standard"
              type="number"
              label={`${firstCurve?.known.unit ?? ''} a second`}
              defaultValue={Number((steady * perSecond).toFixed(4))}
              key={`${first.curve} ${steady}`}
              onKeyDown={(event) => event.stopPropagation()}
              onBlur={({ target: { value } }) =>
                Number.isFinite(Number(value)) && value !== '' && setRate(Number(value))
              }
            />
          ) : (
            <Button sx={{ alignSelf: 'flex-start', ml: -0.6, py: 0, px: 0.6, minWidth: 0 }} onClick={goSteadily}>
              At a constant rate
            </Button>
          )}
          <Button
            sx={{ alignSelf: 'flex-start', ml: -0.6, py: 0, px: 0.6, minWidth: 0 }}
            onClick={() => make(withoutKeyframes(documentCurves(), chosen))}
          >
            Remove
          </Button>
        </>
      )}
    </Stack>
  )
}
