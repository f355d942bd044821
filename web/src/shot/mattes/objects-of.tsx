/** The objects of a render that a matte covers, chosen among those that its files name. */

import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import InputBase from '@mui/material/InputBase'
import MenuItem from '@mui/material/MenuItem'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useEffect, useState } from 'react'
import type { ObjectPass } from '../../../../core/check'
import { inverseOf, throughMatrix } from '../../../../core/motion/mapping'
import { placedMatrix, type ObjectsMatte, type SetMatte, type Shot } from '../../../../core/shot'
import { listObjects } from '../../api/client'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument, selectFrame, selectSources } from '../../store/selectors'
import { viewChanged, type Point } from '../../store/view'

interface Looked {
  readonly passes: readonly ObjectPass[]
  readonly problem: string | null
}

/** Asked for where the frame comes to rest. */
const restMs = 400

function useObjects(source: string): Looked | null {
  const shot = useAppSelector((state) => state.shot.id) ?? ''
  const frame = useAppSelector(selectFrame)
  const [looked, setLooked] = useState<Looked | null>(null)
  useEffect(() => {
    let left = false
    const timer = setTimeout(
      () =>
        void listObjects(shot, source, frame).then(
          (passes) => left || setLooked({ passes, problem: null }),
          (error: Error) => left || setLooked({ passes: [], problem: error.message }),
        ),
      looked ? restMs : 0,
    )
    return () => {
      left = true
      clearTimeout(timer)
    }
    // Having looked only says how long to wait.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [shot, source, frame])
  return looked
}

/** Chooses what lies where the picture was pressed, or lets it go. @returns what came of it, in words */
function usePicked({ matte, onSet }: ObjectsOfProps): string {
  const dispatch = useAppDispatch()
  const shot = useAppSelector((state) => state.shot.id) ?? ''
  const frame = useAppSelector(selectFrame)
  const picked = useAppSelector((state) => state.view.outlining.picked)
  const document = useAppSelector(selectDocument)
  const [said, setSaid] = useState('')
  const toggle = (passes: readonly ObjectPass[]) => {
    const pass = passes.find(({ layers }) => JSON.stringify(layers) === JSON.stringify(matte.layers))
    const [most] = [...(pass?.objects ?? [])].sort((a, b) => (b.here ?? 0) - (a.here ?? 0))
    if (most?.here === undefined) return setSaid('No object lies there.')
    const { [most.name]: before, ...rest } = matte.objects
    setSaid(before === undefined ? `${most.name} was chosen.` : `${most.name} was let go.`)
    onSet({ objects: before === undefined ? { ...rest, [most.name]: most.id } : rest })
  }
  useEffect(() => {
    if (!picked) return
    dispatch(viewChanged({ outlining: { picked: null } }))
    listObjects(shot, matte.source, frame, inItsPicture(matte, picked, document, frame)).then(toggle, (error: Error) =>
      setSaid(error.message),
    )
    // A press counts once, for the matte and frame as they were then.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [picked])
  return said
}

/** The place before the element in which the matte lies is moved; a lens bends it by less than objects are large. */
function inItsPicture({ lies }: ObjectsMatte, at: Point, shot: Shot | null, frame: number): Point {
  const back = shot && lies !== undefined ? inverseOf(placedMatrix(shot, lies, frame)) : null
  const place = back && throughMatrix(back, at.x + 0.5, at.y + 0.5)
  return place ? { x: Math.floor(place[0]), y: Math.floor(place[1]) } : at
}

interface ObjectsOfProps {
  readonly matte: ObjectsMatte
  readonly onSet: (changes: SetMatte['changes']) => void
}

export function ObjectsOf({ matte, onSet }: ObjectsOfProps) {
  const dispatch = useAppDispatch()
  const said = usePicked({ matte, onSet })
  const tool = useAppSelector((state) => state.view.screen.tool)
  const looked = useObjects(matte.source)
  const [wanted, setWanted] = useState('')
  const name = useAppSelector((state) => selectSources(state).find(({ id }) => id === matte.source)?.name)
  if (!looked) return <Typography variant="caption">Reading the ids of {name ?? 'the source'} …</Typography>
  const layers = JSON.stringify(matte.layers)
  const pass = looked.passes.find((one) => JSON.stringify(one.layers) === layers) ?? null
  const others = Object.keys(matte.objects).filter((own) => !pass?.objects.some((one) => one.name === own))
  const shown = [
    ...(pass?.objects ?? []),
    ...others.map((own) => ({ name: own, id: matte.objects[own], share: 0 })),
  ].filter((one) => one.name.toLowerCase().includes(wanted.toLowerCase()))
  const tick = (own: string, id: number, on: boolean) => {
    const { [own]: _before, ...rest } = matte.objects
    onSet({ objects: on ? { ...rest, [own]: id } : rest })
  }
  return (
    <Stack role="group" aria-label="Objects" spacing={0.5}>
      {looked.passes.length > 1 && (
        <TextField
          select
          size="small"
          variant="standard"
          label="The ids in"
          value={pass ? layers : ''}
          onChange={({ target }) => {
            const next = looked.passes.find((one) => JSON.stringify(one.layers) === target.value)
            if (next) onSet({ ids: { layers: next.layers, ranked: next.ranked }, objects: {} })
          }}
        >
          {looked.passes.map((one) => (
            <MenuItem key={one.name} value={JSON.stringify(one.layers)} dense>
              {one.name}
            </MenuItem>
          ))}
        </TextField>
      )}
      {(looked.problem ?? pass?.odd ?? (pass ? null : `${name ?? 'The source'} holds no such pass of ids.`)) !==
        null && (
        <Typography role="alert" variant="caption" color="primary">
          {looked.problem ?? pass?.odd ?? `${name ?? 'The source'} holds no such pass of ids.`}
        </Typography>
      )}
      <Button
        sx={{ alignSelf: 'flex-start', ml: -0.6 }}
        aria-pressed={tool === 'object'}
        onClick={() => dispatch(viewChanged({ screen: { tool: tool === 'object' ? 'look' : 'object' } }))}
      >
        {tool === 'object' ? 'Put this tool away' : 'Choose on the picture'}
      </Button>
      {tool === 'object' && (
        <Typography role="status" variant="caption" color="textSecondary">
          {said || 'Press on what is to be covered, and again to let it go.'}
        </Typography>
      )}
      {shown.length > 8 || wanted !== '' ? (
        <InputBase
          value={wanted}
          placeholder="find an object"
          inputProps={{ 'aria-label': 'Find an object' }}
          onChange={({ target }) => setWanted(target.value)}
          onKeyDown={(event) => event.stopPropagation()}
          sx={{ fontSize: 12 }}
        />
      ) : null}
      <Stack sx={{ maxHeight: 180, overflow: 'auto' }}>
        {shown.map(({ name: own, id, share }) => (
          <FormControlLabel
            key={own}
            sx={{ ml: -0.75, my: -0.5 }}
            slotProps={{ typography: { variant: 'body2', noWrap: true } }}
            control={
              <Checkbox
                size="small"
                checked={Object.hasOwn(matte.objects, own)}
                onChange={(_event, on) => tick(own, id, on)}
              />
            }
            label={`${own}${share > 0 ? `, ${share < 0.001 ? 'below 0.1' : (100 * share).toFixed(1)} %` : ', not on this frame'}`}
          />
        ))}
      </Stack>
    </Stack>
  )
}
