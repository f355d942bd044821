/** Asks for a delivery and shows how deliveries go on. */

import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import LinearProgress from '@mui/material/LinearProgress'
import MenuItem from '@mui/material/MenuItem'
import Popover from '@mui/material/Popover'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import type { Scale } from '../../../../core/graph/steps'
import type { DeliveryStatus, SampleChoice } from '../../../../core/shot'
import { cancelDelivery, startDelivery } from '../../api/client'
import { deliveryChanged } from '../../api/server-cache'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDeliveries, selectDocument } from '../../store/selectors'

function secondsText(seconds: number): string {
  const rounded = Math.max(0, Math.round(seconds))
  return rounded < 60 ? `${rounded} s` : `${Math.floor(rounded / 60)} min ${rounded % 60} s`
}

function statusText(delivery: DeliveryStatus): string {
  const { state, done, total, failed, createdAt, finishedAt } = delivery
  const elapsed = ((finishedAt ? Date.parse(finishedAt) : Date.now()) - Date.parse(createdAt)) / 1000
  if (state === 'cancelled') return `Cancelled; ${done} of ${total} frames are complete`
  if (state === 'done') return `${total} frames in ${secondsText(elapsed)}`
  if (state === 'failed') return `${done} of ${total} frames; ${failed.length} failed`
  const remaining = done > 0 ? `, about ${secondsText((elapsed / done) * (total - done))} to go` : ''
  return `${done} of ${total} frames after ${secondsText(elapsed)}${remaining}`
}

function DeliveryEntry({ delivery }: { delivery: DeliveryStatus }) {
  const dispatch = useAppDispatch()
  const { id, state, done, failed, total, first, last, scale, folder, clamped } = delivery
  return (
    <Box role="listitem" aria-label={`Delivery of ${first} to ${last}, ${state}`}>
      <Stack direction="row" sx={{ justifyContent: 'space-between', alignItems: 'center' }}>
        <Typography variant="body2">
          {first} to {last}
          {scale === 1 ? '' : ` at 1/${scale} size`}: {statusText(delivery)}
        </Typography>
        {state === 'running' && (
          <Button onClick={() => void cancelDelivery(id).then((now) => dispatch(deliveryChanged(now.shotId, now)))}>
            Cancel
          </Button>
        )}
      </Stack>
      {state === 'running' && <LinearProgress variant="determinate" value={((done + failed.length) / total) * 100} />}
      {clamped.values > 0 && (
        <Typography variant="caption" component="div">
          {clamped.values} values on {clamped.frames} frames are larger than 65504, the largest that a half float holds,
          and were held to it. Deliver floats to keep them.
        </Typography>
      )}
      {failed.map(({ frame, error }) => (
        <Typography key={frame} variant="caption" component="div" color="primary">
          {error}
        </Typography>
      ))}
      <Typography
        variant="caption"
        color="textSecondary"
        component="div"
        sx={{ overflowWrap: 'anywhere' }}
        role="group"
        aria-label="Folder"
      >
        {folder}
      </Typography>
    </Box>
  )
}

function FrameField({ label, value, onChange }: { label: string; value: string; onChange: (typed: string) => void }) {
  return (
    <TextField
      size="small"
      label={label}
      value={value}
      onChange={(event) => onChange(event.target.value)}
      sx={{ width: 100 }}
    />
  )
}

function DeliveryForm() {
  const dispatch = useAppDispatch()
  const shot = useAppSelector(selectDocument)
  const saving = useAppSelector((state) => state.shot.saving)
  const [first, setFirst] = useState(String(shot?.frames.first ?? 0))
  const [last, setLast] = useState(String(shot?.frames.last ?? 0))
  const [scale, setScale] = useState<Scale>(1)
  const [samples, setSamples] = useState<SampleChoice>('plate')
  const shotId = useAppSelector((state) => state.shot.id) ?? ''
  const [refusal, setRefusal] = useState<string | null>(null)
  if (!shot) return null
  const start = () =>
    startDelivery(shotId, { first: Number(first), last: Number(last), scale, samples }).then(
      (delivery) => {
        setRefusal(null)
        dispatch(deliveryChanged(delivery.shotId, delivery))
      },
      (error: Error) => setRefusal(error.message),
    )
  return (
    <Stack spacing={1}>
      <Stack direction="row" spacing={1}>
        <FrameField label="First frame" value={first} onChange={setFirst} />
        <FrameField label="Last frame" value={last} onChange={setLast} />
        <TextField
          size="small"
          select
          label="Size"
          value={scale}
          onChange={(event) => setScale(Number(event.target.value) as Scale)}
          sx={{ width: 100 }}
        >
          <MenuItem value={1}>full</MenuItem>
          <MenuItem value={2}>half</MenuItem>
          <MenuItem value={4}>quarter</MenuItem>
        </TextField>
        <TextField
          size="small"
          select
          label="Samples"
          value={samples}
          onChange={(event) => setSamples(event.target.value as SampleChoice)}
          sx={{ width: 130 }}
        >
          <MenuItem value="plate">as the plate</MenuItem>
          <MenuItem value="half">half floats</MenuItem>
          <MenuItem value="float">floats</MenuItem>
        </TextField>
        <Button variant="contained" color="primary" disabled={saving !== 'saved'} onClick={() => void start()}>
          Render
        </Button>
      </Stack>
      <Typography variant="caption" color="textSecondary">
        Scene-linear EXR with ZIP compression; no view transform. As the plate: samples that hold its values without
        loss.
      </Typography>
      {refusal !== null && (
        <Alert severity="warning" variant="outlined">
          {refusal}
        </Alert>
      )}
    </Stack>
  )
}

export function DeliveryPanel() {
  const deliveries = useAppSelector(selectDeliveries)
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const newest = deliveries[0]
  return (
    <Box sx={{ width: 292, flexShrink: 0, borderLeft: 1, borderColor: 'divider', p: 1.5 }}>
      <Button variant="outlined" onClick={(event) => setAnchor(event.currentTarget)}>
        Deliver …
      </Button>
      <Typography
        variant="caption"
        color="textSecondary"
        component="div"
        sx={{ mt: 1 }}
        role="status"
        aria-label="Newest delivery"
      >
        {newest ? `${newest.first} to ${newest.last}: ${statusText(newest)}` : 'Nothing delivered yet.'}
      </Typography>
      {newest?.state === 'running' && (
        <LinearProgress
          variant="determinate"
          value={((newest.done + newest.failed.length) / newest.total) * 100}
          sx={{ mt: 0.5 }}
        />
      )}
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'top', horizontal: 'right' }}
        transformOrigin={{ vertical: 'bottom', horizontal: 'right' }}
      >
        <Stack spacing={2} sx={{ p: 2, width: 580, maxHeight: 480, overflow: 'auto' }}>
          <DeliveryForm />
          <Stack spacing={2} role="list" aria-label="Deliveries">
            {deliveries.map((delivery) => (
              <DeliveryEntry key={delivery.id} delivery={delivery} />
            ))}
          </Stack>
        </Stack>
      </Popover>
    </Box>
  )
}
