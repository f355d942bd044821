/** The camera that a plane tells, and writing it for a 3D program. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { nameOfRegion, type PlaneCamera, type Shot, type Track } from '../../../../core/shot'
import { loadPlaneCamera } from '../../api/client'
import { useAppSelector } from '../../store'
import { selectDocument } from '../../store/selectors'
import { LabelledNumber } from '../card/labelled-number'
import { saveText } from './save-text'

export function CameraOfPlane({ corners }: { readonly corners: readonly Track[] }) {
  const shot = useAppSelector(selectDocument)
  const [typed, setTyped] = useState<number | null>(null)
  const id = useAppSelector((state) => state.shot.id)
  const [said, setSaid] = useState<{ readonly sentence: string; readonly fault: boolean } | null>(null)
  const region = corners[0].region?.id
  if (!shot || region === undefined) return null
  const write = async () => {
    if (id === null) return
    try {
      const told = await loadPlaneCamera(id, region, typed)
      saveText(told.file, `${shot.name}_camera.gltf`, 'model/gltf+json')
      setSaid({ sentence: toldOf(shot, told), fault: false })
    } catch (error) {
      setSaid({ sentence: (error as Error).message, fault: true })
    }
  }
  return (
    <Box>
      <Typography variant="body2">The camera that sees it so</Typography>
      <LabelledNumber
        text="Focal length, pixels"
        value={typed ?? 0}
        step={10}
        least={0}
        most={1_000_000}
        digits={0}
        onCommit={(value) => setTyped(value > 0 ? value : null)}
      />
      <Typography variant="caption" color="textSecondary" component="div">
        {typed === null ? '0: as the perspective of all frames tells it.' : 'As typed.'}
      </Typography>
      <Button
        sx={{ ml: -0.6 }}
        onClick={() => void write()}
        aria-label={`Write the camera of ${nameOfRegion(corners[0])}`}
      >
        Write it as glTF
      </Button>
      {said !== null && (
        <Typography
          role={said.fault ? 'alert' : 'status'}
          variant="caption"
          component="div"
          color={said.fault ? 'error' : 'textPrimary'}
        >
          {said.sentence}
        </Typography>
      )}
    </Box>
  )
}

function toldOf({ frames }: Shot, { focal, error, rms, lies, frames: known }: PlaneCamera): string {
  const all = frames.last - frames.first + 1
  const length = `${focal.toFixed(0)} px${error > 0 ? `, to ${error.toFixed(error < 1 ? 1 : 0)}` : ''}`
  const which = known === all ? `all ${all} frames` : `${known} of ${all} frames`
  return `Written for ${which}: focal length ${length}; corners off by ${rms.toFixed(2)} px. The plane is the ${lies ? 'floor' : 'wall'}, its lower left corner the origin.`
}
