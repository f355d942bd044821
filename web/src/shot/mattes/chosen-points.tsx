/** What can be done with the points of a shape that are chosen. */

import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Tooltip from '@mui/material/Tooltip'
import {
  allOf,
  changedPoints,
  find,
  inOrder,
  outlineAt,
  pointsBecome,
  type PointWay,
  type ShapeNow,
} from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectShapeInDocument } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { LabelledNumber } from '../card/labelled-number'
import { removedPoints } from './removed-points'

const narrow = { minWidth: 0, px: 0.6, py: 0 } as const

export function ChosenPoints() {
  const dispatch = useAppDispatch()
  const now = useAppSelector(selectShapeInDocument)
  const all = useAppSelector((state) => state.view.outlining.points)
  const chosen = now ? all.filter((id) => find(now.shape.points, id)) : []
  if (!now || chosen.length === 0) return null
  const become = (way: PointWay) => dispatch(shotActions.edited(pointsBecome(now, chosen, way)))
  const left = allOf(now.shape.points).length - chosen.length
  return (
    <>
      <PointFeather now={now} chosen={chosen} />
      <Stack direction="row" sx={{ alignItems: 'center', flexWrap: 'wrap', ml: -0.6 }}>
        <Button sx={narrow} onClick={() => become('corner')}>
          {chosen.length === 1 ? 'Corner' : 'Corners'}
        </Button>
        <Button sx={narrow} onClick={() => become('smooth')}>
          Smooth
        </Button>
        <Tooltip describeChild title="Each handle is moved by itself">
          <Button sx={narrow} onClick={() => become('broken')}>
            Broken
          </Button>
        </Tooltip>
        <Button
          sx={narrow}
          disabled={left < 3}
          onClick={() => dispatch(shotActions.edited(removedPoints(now, chosen)))}
        >
          Remove {chosen.length === 1 ? 'point' : `${chosen.length} points`}
        </Button>
      </Stack>
    </>
  )
}

/** Feather that the chosen points have more than the shape; of the first of them. */
function PointFeather({ now, chosen }: { now: ShapeNow; chosen: readonly string[] }) {
  const dispatch = useAppDispatch()
  const keyframes = useAppSelector((state) => state.view.outlining.keyframes)
  const at = inOrder(now.shape.points).findIndex(({ id }) => id === chosen[0])
  const value = outlineAt(now.shape, now.frame)[at]?.feather ?? 0
  const set = (feather: number) =>
    dispatch(
      shotActions.edited(
        changedPoints(now, chosen, keyframes, (place) => ({ ...place, feather }), 'Feather of points of'),
      ),
    )
  return (
    <LabelledNumber
      text="Feather more, px"
      label="Feather of the chosen points"
      value={value}
      step={0.5}
      least={-1000}
      most={1000}
      digits={1}
      onCommit={set}
    />
  )
}
