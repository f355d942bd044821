/** On the card of a source that is made here: of what, how the making stands, and making it. */

import Button from '@mui/material/Button'
import LinearProgress from '@mui/material/LinearProgress'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import type { Recipe, Source } from '../../../../../core/shot'
import { makeSource } from '../../../api/client'
import { serverCache } from '../../../api/server-cache'
import { useAppDispatch, useAppSelector } from '../../../store'
import { selectMaking, selectWork } from '../../../store/selectors'
import { shotActions } from '../../../store/shot-slice'
import { CleanPlateFields, MotionBlurFields, SoftMatteFields } from './recipe-fields'

const about: Readonly<Record<Recipe['kind'], string>> = {
  'clean-plate':
    'What stands still over the frames, without what passes. It has hardly any grain: add grain where it covers the plate.',
  'soft-matte':
    'The figure with its own light, premultiplied: use it as the source of an element. Between sure inside and sure outside its coverage is found by colour.',
  'motion-blur':
    'A render that came without motion blur, blurred by its own motion from frame to frame: choose it as the pass of an element in place of the render.',
}

export function MadeHere({ source, recipe }: { source: Source; recipe: Recipe }) {
  const dispatch = useAppDispatch()
  const set = (made: Recipe) =>
    dispatch(shotActions.edited({ kind: 'set-source', source: source.id, changes: { made } }))
  return (
    <Stack role="group" aria-label="Made here" spacing={0.75}>
      <Typography variant="caption" color="textSecondary">
        {about[recipe.kind]}
      </Typography>
      {recipe.kind === 'clean-plate' && <CleanPlateFields source={source.id} recipe={recipe} onSet={set} />}
      {recipe.kind === 'soft-matte' && <SoftMatteFields source={source.id} recipe={recipe} onSet={set} />}
      {recipe.kind === 'motion-blur' && <MotionBlurFields source={source.id} recipe={recipe} onSet={set} />}
      <Make source={source.id} />
    </Stack>
  )
}

function Make({ source }: { source: string }) {
  const dispatch = useAppDispatch()
  const shotId = useAppSelector((state) => state.shot.id) ?? ''
  const isSaved = useAppSelector((state) => state.shot.unsaved.length === 0)
  const making = useAppSelector((state) => selectMaking(state).find((one) => one.source === source))
  const progress = useAppSelector((state) => selectWork(state).find(({ id }) => id === making?.work)?.progress ?? 0)
  const [refusal, setRefusal] = useState<string | null>(null)
  const underWay = making?.state === 'waiting' || making?.state === 'running'
  const make = () =>
    void makeSource(shotId, source).then(
      (list) => {
        setRefusal(null)
        dispatch(serverCache.util.upsertQueryData('making', shotId, list))
      },
      (error: Error) => setRefusal(error.message),
    )
  return (
    <>
      <Button variant="outlined" disabled={underWay || !isSaved} onClick={make} sx={{ alignSelf: 'flex-start' }}>
        {making?.state === 'done' ? 'Make it again' : 'Make it'}
      </Button>
      {underWay && <LinearProgress aria-label="Making" variant="determinate" value={100 * progress} />}
      {refusal !== null ? (
        <Typography role="alert" variant="body2" color="primary">
          {refusal}
        </Typography>
      ) : (
        <Typography
          role={making?.state === 'failed' ? 'alert' : 'status'}
          aria-label="How the making stands"
          variant="caption"
        >
          {saysOf(making)}
        </Typography>
      )}
    </>
  )
}

function saysOf(making: ReturnType<typeof selectMaking>[number] | undefined): string {
  if (!making) return 'Not made yet.'
  const { state, done, total, says } = making
  if (state === 'done') return says ?? 'Made.'
  const much = total > 1 ? `${done} of ${total} frames. ` : ''
  if (state === 'waiting' || state === 'running') return `${much}${says ?? 'Being made …'}`
  return state === 'cancelled' ? `${much}Called off.` : `${much}${says ?? 'It could not be made.'}`
}
