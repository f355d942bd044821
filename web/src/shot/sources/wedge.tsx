/** Encoding wedge: the same frame decoded by every encoding at once, the most plausible first; a click chooses. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import ButtonBase from '@mui/material/ButtonBase'
import Dialog from '@mui/material/Dialog'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import MenuItem from '@mui/material/MenuItem'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useEffect, useRef, useState } from 'react'
import type { Wedge as Ranked } from '../../../../core/check'
import { encodings, workingSpaces, type EncodingName } from '../../../../core/colour'
import { lookAt } from '../../../../core/look/looking'
import { frameStep } from '../../../../core/graph/steps'
import { shotFramesOf, type Source } from '../../../../core/shot'
import { rankSource } from '../../api/client'
import { useEngine } from '../../engine/engine-context'
import { sourceStep } from '../../../../core/plan/source'
import { planningOf } from '../../store/plans'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument, selectLooking, selectSamples, selectSources } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'

/** The frame that the playhead is on, as one encoding reads it. */
function Decoded({ source, encoding }: { source: Source; encoding: EncodingName }) {
  const engine = useEngine()
  const canvas = useRef<HTMLCanvasElement>(null)
  const shot = useAppSelector(selectDocument)
  const frame = useAppSelector((state) => state.view.playing.frame)
  const looking = useAppSelector(selectLooking)
  const catalog = useAppSelector((state) => state.shot.catalog)
  const [problem, setProblem] = useState<string | null>(null)
  useEffect(() => {
    if (!shot) return
    const range = shotFramesOf(source)
    const at = range ? Math.min(range.last, Math.max(range.first, frame)) : frame
    const plain = sourceStep(planningOf(shot, 4, catalog), source.id, null, null, 'rgba', at)
    if (!plain) return
    const step = frameStep({ ...plain.request, claims: { ...source.claims, encoding } }, `wedge ${plain.key}`)
    const { step: looked, view } = lookAt(step, looking, workingSpaces[shot.workingSpace])
    const abort = new AbortController()
    const size = { width: Math.ceil(shot.frameSize.width / 4), height: Math.ceil(shot.frameSize.height / 4) }
    engine.view(looked, { x: 0, y: 0, ...size }, view, { signal: abort.signal }).then(
      (bytes) => {
        if (!canvas.current) return
        Object.assign(canvas.current, size)
        const pixels = new ImageData(new Uint8ClampedArray(bytes.buffer), size.width, size.height)
        canvas.current.getContext('2d')?.putImageData(pixels, 0, 0)
      },
      (error: Error) => abort.signal.aborted || setProblem(error.message),
    )
    return () => abort.abort()
  }, [engine, shot, source, encoding, frame, looking, catalog])
  return problem === null ? (
    <canvas ref={canvas} width={320} height={180} style={{ width: '100%', display: 'block' }} />
  ) : (
    <Typography variant="caption">{problem}</Typography>
  )
}

function ChooseOrNone({
  label,
  value,
  choices,
  width,
  onChoose,
}: {
  label: string
  value: string
  choices: readonly { readonly value: string; readonly text: string }[]
  width: number
  onChoose: (value: string) => void
}) {
  return (
    <TextField
      select
      size="small"
      label={label}
      value={value}
      onChange={(event) => onChoose(event.target.value)}
      sx={{ width }}
    >
      <MenuItem value="">none</MenuItem>
      {choices.map((choice) => (
        <MenuItem key={choice.value} value={choice.value}>
          {choice.text}
        </MenuItem>
      ))}
    </TextField>
  )
}

const stopsText = (value: number) => `${value.toFixed(2)} stops off`

export function Wedge({ source, onClose }: { source: Source; onClose: () => void }) {
  const dispatch = useAppDispatch()
  const frame = useAppSelector((state) => state.view.playing.frame)
  const samples = useAppSelector(selectSamples)
  const others = useAppSelector(selectSources).filter((one) => one.id !== source.id)
  const [trusted, setTrusted] = useState<string>(others.find(({ name }) => /clean|plate/i.test(name))?.id ?? '')
  const [patch, setPatch] = useState<string>('')
  const [ranked, setRanked] = useState<Ranked | null>(null)
  const [problem, setProblem] = useState<string | null>(null)
  const id = useAppSelector((state) => state.shot.id) ?? ''
  const place = samples.find(({ id: sample }) => sample === patch) ?? null
  useEffect(() => {
    let left = false
    rankSource(id, source.id, frame, trusted || null, place && { x: place.x, y: place.y }).then(
      (answer) => left || (setRanked(answer), setProblem(null)),
      (error: Error) => left || setProblem(error.message),
    )
    return () => {
      left = true
    }
  }, [id, source.id, frame, trusted, place])
  const choose = (encoding: EncodingName) => {
    dispatch(shotActions.edited({ kind: 'set-claims', source: source.id, claims: { encoding } }))
    onClose()
  }
  return (
    <Dialog open onClose={onClose} maxWidth="lg" fullWidth>
      <DialogTitle variant="h2">Wedge: how is {source.name} encoded?</DialogTitle>
      <DialogContent>
        <Stack direction="row" spacing={2} sx={{ alignItems: 'center', mb: 1.5, pt: 1 }}>
          <ChooseOrNone
            label="Beside a source that is trusted"
            value={trusted}
            choices={others.map(({ id: value, name: text }) => ({ value, text }))}
            width={240}
            onChoose={setTrusted}
          />
          <ChooseOrNone
            label="A sample that was mid grey"
            value={patch}
            choices={samples.map(({ id: value, name, x, y }) => ({ value, text: `sample ${name}, ${x} ${y}` }))}
            width={200}
            onChoose={setPatch}
          />
          <Typography variant="caption" color="textSecondary" sx={{ flex: 1 }}>
            {problem ?? (ranked ? `Ranked ${ranked.beside}. Click the one that looks right.` : 'Ranking …')}
          </Typography>
          <Button onClick={onClose}>Leave as it is</Button>
        </Stack>
        <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(4, 1fr)', gap: 1 }}>
          {ranked?.ranked.map(({ encoding, besideTrusted, greyOff, unusual, black, white }, i) => (
            <ButtonBase
              key={encoding}
              onClick={() => choose(encoding)}
              sx={{
                display: 'block',
                textAlign: 'left',
                p: 0.5,
                outline: source.claims.encoding === encoding ? '1px solid' : 0,
                outlineColor: 'primary.main',
                '&:hover': { bgcolor: 'action.selected' },
              }}
            >
              <Decoded source={source} encoding={encoding} />
              <Typography variant="body2">
                {i + 1}. {encodings[encoding].label}
              </Typography>
              <Typography variant="caption" color="textSecondary">
                {[
                  besideTrusted !== null && stopsText(besideTrusted),
                  greyOff !== null && `grey ${stopsText(greyOff)}`,
                  besideTrusted === null && greyOff === null && `unusual by ${unusual.toFixed(2)}`,
                  `${black.toFixed(3)} to ${white.toFixed(2)}`,
                ]
                  .filter(Boolean)
                  .join(', ')}
              </Typography>
            </ButtonBase>
          ))}
        </Box>
      </DialogContent>
    </Dialog>
  )
}
