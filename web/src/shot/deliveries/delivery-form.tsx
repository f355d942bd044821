/** Asks for a delivery. */

import Alert from '@mui/material/Alert'
import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { deliveryFault, usualOutput, type DeliveryOutput } from '../../../../core/delivery'
import type { Scale } from '../../../../core/graph/steps'
import type { Shot } from '../../../../core/shot'
import { startDelivery } from '../../api/client'
import { deliveryChanged } from '../../api/server-cache'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDeliveries } from '../../store/selectors'
import { withFormat } from './output-choices'
import { Choice, OutputFields } from './output-fields'

/** Outputs in a list that is changed need names of their own. */
interface Listed {
  readonly id: number
  readonly output: DeliveryOutput
}

export function DeliveryForm({ shot }: { shot: Shot }) {
  const dispatch = useAppDispatch()
  const saved = useAppSelector((state) => state.shot.saving === 'saved')
  const version = useAppSelector((state) => 1 + Math.max(0, ...selectDeliveries(state).map((one) => one.version)))
  const shotId = useAppSelector((state) => state.shot.id) ?? ''
  const [first, setFirst] = useState(String(shot.frames.first))
  const [last, setLast] = useState(String(shot.frames.last))
  const [scale, setScale] = useState<Scale>(1)
  const [outputs, setOutputs] = useState<readonly Listed[]>([{ id: 0, output: usualOutput }])
  const [refusal, setRefusal] = useState<string | null>(null)
  const wanted = {
    first: first.trim() === '' ? NaN : Number(first),
    last: last.trim() === '' ? NaN : Number(last),
    scale,
    outputs: outputs.map(({ output }) => output),
  }
  const numbers = Number.isInteger(wanted.first) && Number.isInteger(wanted.last)
  const fault = numbers ? deliveryFault(shot, wanted) : 'Frames are whole numbers.'
  const start = () =>
    startDelivery(shotId, wanted).then(
      (delivery) => {
        setRefusal(null)
        dispatch(deliveryChanged(shotId, delivery))
      },
      (error: Error) => setRefusal(error.message),
    )
  const replace = (id: number, output: DeliveryOutput) =>
    setOutputs(outputs.map((one) => (one.id === id ? { id, output } : one)))
  const add = () => {
    const movie = withFormat(usualOutput, 'movie')
    const output = outputs.some((one) => one.output.format === 'movie') ? usualOutput : movie
    setOutputs([...outputs, { id: 1 + Math.max(...outputs.map(({ id }) => id)), output }])
  }
  const sentence = refusal ?? fault
  return (
    <Stack spacing={1}>
      <Stack direction="row" spacing={1}>
        <FrameField label="First frame" value={first} onChange={setFirst} />
        <FrameField label="Last frame" value={last} onChange={setLast} />
        <Choice
          label="Size"
          value={scale}
          choices={[
            [1, 'full'],
            [2, 'half'],
            [4, 'quarter'],
          ]}
          onChange={(value) => setScale(Number(value) as Scale)}
        />
      </Stack>
      {outputs.map(({ id, output }) => (
        <OutputFields
          key={id}
          {...{ shot, output, version }}
          first={numbers ? wanted.first : shot.frames.first}
          onRemove={outputs.length > 1 ? () => setOutputs(outputs.filter((one) => one.id !== id)) : null}
          onChange={(changed) => {
            setRefusal(null)
            replace(id, changed)
          }}
        />
      ))}
      {wanted.outputs.some((output) => 'encoding' in output && output.encoding === 'view') && (
        <Typography variant="caption">
          As on the screen: the view is in the files, and cannot be taken out of them again.
        </Typography>
      )}
      {sentence !== null && (
        <Alert severity="warning" variant="outlined" sx={{ py: 0 }}>
          {sentence}
        </Alert>
      )}
      <Stack direction="row" sx={{ justifyContent: 'space-between' }}>
        <Button onClick={add}>Add an output</Button>
        <Button variant="contained" color="primary" disabled={!saved || fault !== null} onClick={() => void start()}>
          Deliver
        </Button>
      </Stack>
    </Stack>
  )
}

function FrameField({ label, value, onChange }: { label: string; value: string; onChange: (typed: string) => void }) {
  return (
    <TextField
      size="small"
      label={label}
      value={value}
      onChange={(event) => onChange(event.target.value)}
      sx={{ flex: 1 }}
    />
  )
}
