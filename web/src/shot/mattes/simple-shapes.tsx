/** Adds an ellipse or a rectangle to a matte, with its points chosen, so that it can be moved and scaled at once. */

import Button from '@mui/material/Button'
import { ellipseIn, rectangleOf, type Outline } from '../../../../core/outline'
import { drawnShape, type Change, type DrawnMatte } from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument, selectFrame } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { viewChanged } from '../../store/view'

const narrow = { minWidth: 0, px: 0.6, py: 0 } as const

/** In the middle of the frame; its points are moved where they belong. */
export function SimpleShapes({ matte }: { matte: DrawnMatte }) {
  const dispatch = useAppDispatch()
  const shot = useAppSelector(selectDocument)
  const frame = useAppSelector(selectFrame)
  if (!shot) return null
  const { width, height } = shot.frameSize
  const box = { x: width * 0.375, y: height * 0.375, width: width / 4, height: height / 4 }
  const add = (outline: Outline, corner: boolean) => {
    const made = drawnShape(
      shot,
      matte,
      frame,
      outline,
      outline.map(() => corner),
    )
    if (!made) return
    dispatch(shotActions.edited(made.edit))
    const points = pointsAdded(made.edit)
    dispatch(viewChanged({ outlining: { shape: made.shape, points }, screen: { tool: 'points' } }))
  }
  return (
    <>
      <Button sx={narrow} onClick={() => add(ellipseIn(box), false)}>
        Ellipse
      </Button>
      <Button sx={narrow} onClick={() => add(rectangleOf(box), true)}>
        Rectangle
      </Button>
    </>
  )
}

/** All points of a shape that was added: they are chosen, so that its box can be moved and scaled. */
const pointsAdded = (edit: Change): readonly string[] =>
  edit.kind === 'add-shape' ? Object.keys(edit.shape.points.byId) : []
