/** The points of the camera file whose card is open, on the picture where its camera sees them; each can be chosen. */

import Box from '@mui/material/Box'
import ButtonBase from '@mui/material/ButtonBase'
import { useMemo } from 'react'
import { placeOnPlate } from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { sceneActions } from '../../store/scene'
import { selectDocument, selectFrame } from '../../store/selectors'
import type { Placement } from '../picture/placement'
import { useSolvedScene } from './use-solved-scene'

/** More would hide the picture: so many are shown, spread over the file. */
const mostShown = 400
const side = 14

export function ScenePoints({ placement: { left, top, zoom } }: { readonly placement: Placement }) {
  const dispatch = useAppDispatch()
  const { scene } = useSolvedScene()
  const shot = useAppSelector(selectDocument)
  const frame = useAppSelector(selectFrame)
  const { camera, chosen } = useAppSelector((state) => state.scene)
  const spots = useMemo(() => {
    const pose = scene?.cameras[camera]?.poses.find((one) => one.frame === frame)
    if (!scene || !shot || !pose) return []
    const step = Math.ceil(scene.points.length / mostShown)
    const { width, height } = shot.frameSize
    return scene.points.flatMap(({ name, place }, i) => {
      const spot = i % step === 0 ? placeOnPlate(shot, pose, place) : null
      return spot && spot[0] >= 0 && spot[1] >= 0 && spot[0] <= width && spot[1] <= height ? [{ i, name, spot }] : []
    })
  }, [scene, shot, camera, frame])
  return spots.map(({ i, name, spot: [x, y] }) => {
    const isChosen = chosen.includes(i)
    return (
      <ButtonBase
        key={i}
        aria-label={name}
        aria-pressed={isChosen}
        title={name}
        onPointerDown={(event) => event.stopPropagation()}
        onClick={() => dispatch(sceneActions.pointTurned(i))}
        style={{ left: left + x * zoom - side / 2, top: top + y * zoom - side / 2 }}
        sx={{
          ...{ position: 'absolute', width: side, height: side },
          '&:focus-visible': { outline: '2px solid', outlineColor: 'primary.main' },
        }}
      >
        <Box
          sx={{
            ...{ width: isChosen ? 9 : 5, height: isChosen ? 9 : 5, transform: 'rotate(45deg)' },
            ...{ border: '1px solid #fff', outline: '1px solid rgba(0, 0, 0, 0.7)' },
            bgcolor: isChosen ? 'primary.main' : 'transparent',
          }}
        />
      </ButtonBase>
    )
  })
}
