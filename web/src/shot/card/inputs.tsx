/** What an element is made of: its passes, each with colour, exposure and time of its own. */

import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { memo } from 'react'
import { inputDescriptions } from '../../../../core/set/owners'
import {
  find,
  inOrder,
  type ElementInput,
  type Input,
  type PassInput,
  type PointOwner,
  type SetTiming,
} from '../../../../core/shot'
import type { Description } from '../../../../core/treatments'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { viewChanged } from '../../store/view'
import { WholeNumber } from '../sources/claim-fields'
import { ChannelNames } from './channel-names'
import { DragNumber } from './drag-number'
import { ParameterRow } from './parameter-row'
import { Choices, Points } from './points'
import { Section } from './section'
import type { StillElement } from './use-still'

type Timed = PassInput | ElementInput
/** Made here, not read. */
const madeWords = { gradient: 'a gradient', noise: 'noise', constant: 'one colour' } as const
const isTimed = (input: Input): input is Timed => input.kind === 'pass' || input.kind === 'element'

const beyondWords = {
  nothing: 'nothing',
  hold: 'its last frame',
  loop: 'from the start',
  'ping-pong': 'back and forth',
}
type Beyond = keyof typeof beyondWords

function summaryOf(inputs: readonly Input[]): string {
  const [only] = inputs
  if (inputs.length === 1 && only.kind in madeWords) return madeWords[only.kind as keyof typeof madeWords]
  const passes = inputs.filter(({ kind }) => kind === 'pass').length
  const timed = inputs.some((input) => isTimed(input) && input.timing && Object.keys(input.timing).length > 0)
  const made = passes === 0 ? 'another element' : passes === 1 ? 'one pass' : `${passes} passes`
  return `${made}${timed ? ', in its own time' : ''}`
}

export const Inputs = memo(function Inputs({ element }: { element: StillElement }) {
  const inputs = inOrder(element.inputs)
  return (
    <Section name="Made of" summary={summaryOf(inputs)}>
      {inputs.map((input) => (
        <OneInput key={input.id} element={element} input={input} />
      ))}
    </Section>
  )
})

function OneInput({ element, input }: { element: StillElement; input: Input }) {
  const dispatch = useAppDispatch()
  const named = useAppSelector((state) => nameOf(input, state.shot.shot))
  const description: Description = inputDescriptions[input.kind]
  const of: PointOwner = { kind: 'input', element: element.id, id: input.id }
  const show = () =>
    input.kind === 'pass' &&
    dispatch(viewChanged({ looking: { shown: 'node', node: { kind: 'source', id: input.source, part: input.part } } }))
  return (
    <Stack spacing={0.5} sx={{ pl: input.parent === null ? 0 : 1 }}>
      <Stack direction="row" sx={{ alignItems: 'center', justifyContent: 'space-between' }}>
        <Typography variant="caption" color="textSecondary" noWrap>
          {named}
        </Typography>
        {input.kind === 'pass' && (
          <Button sx={{ py: 0, minWidth: 0, mr: -0.7 }} onClick={show}>
            Show alone
          </Button>
        )}
      </Stack>
      {description.parameters.some(({ channels }) => channels === 3) && <ChannelNames />}
      {description.parameters.map((parameter) => (
        <ParameterRow
          key={parameter.name}
          parameter={parameter}
          owner={{ kind: 'input', element: element.id, id: input.id }}
          curves={input.parameters[parameter.name]}
        />
      ))}
      {input.kind === 'gradient' && (
        <>
          <Choices description={description} of={of} choices={input.choices} />
          <Points description={description} of={of} points={input.points} />
        </>
      )}
      {isTimed(input) && <TimingRow element={element} input={input} />}
    </Stack>
  )
}

function nameOf(input: Input, shot: ReturnType<typeof selectDocument>): string {
  switch (input.kind) {
    case 'pass': {
      const source = (shot && find(shot.sources, input.source)?.name) ?? 'a source that is gone'
      return input.part === null ? source : `${source}, ${input.part.replace(/_/g, ' ')}`
    }
    case 'element':
      return `what ${(shot && find(shot.elements, input.element)?.name) ?? 'an element that is gone'} shows`
    default:
      return inputDescriptions[input.kind].help
  }
}

/** When it shows which frame. */
function TimingRow({ element, input }: { element: StillElement; input: Timed }) {
  const dispatch = useAppDispatch()
  const frame = useAppSelector((state) => state.view.playing.frame)
  const { offset = 0, speed = 1, held, beyond = 'nothing', from, to } = input.timing ?? {}
  const set = (changes: SetTiming['changes']) =>
    dispatch(shotActions.edited({ kind: 'set-timing', element: element.id, input: input.id, changes }))
  return (
    <Stack spacing={0.5}>
      <Stack direction="row" spacing={1} sx={{ alignItems: 'flex-end' }}>
        <WholeNumber label="Offset in frames" value={offset} onSet={(by) => set({ offset: by === 0 ? null : by })} />
        <Stack>
          <Typography variant="caption" color="textSecondary">
            Speed
          </Typography>
          <DragNumber
            label="Speed"
            value={speed}
            step={0.01}
            least={-100}
            most={100}
            digits={2}
            onChange={() => undefined}
            onCommit={(by) => set({ speed: by === 1 ? null : by })}
          />
        </Stack>
        <TextField
          select
          size="small"
          variant="standard"
          label="After its end"
          value={beyond}
          sx={{ flex: 1 }}
          onChange={({ target: { value } }) =>
            set({ beyond: value === 'nothing' ? null : (value as Exclude<Beyond, 'nothing'>) })
          }
        >
          {(Object.keys(beyondWords) as Beyond[]).map((value) => (
            <MenuItem key={value} value={value} dense>
              {beyondWords[value]}
            </MenuItem>
          ))}
        </TextField>
      </Stack>
      <Stack direction="row" sx={{ ml: -0.6, flexWrap: 'wrap' }}>
        <Button sx={{ py: 0, minWidth: 0 }} onClick={() => set({ from: from === frame ? null : frame })}>
          {from === undefined
            ? 'Begin here'
            : from === frame
              ? 'Begin with its files'
              : `Begins at ${from}: begin here`}
        </Button>
        <Button sx={{ py: 0, minWidth: 0 }} onClick={() => set({ to: to === frame ? null : frame })}>
          {to === undefined ? 'End here' : to === frame ? 'End with its files' : `Ends at ${to}: end here`}
        </Button>
        <Button sx={{ py: 0, minWidth: 0 }} onClick={() => set({ speed: speed === 1 ? -1 : -speed })}>
          {speed < 0 ? 'Forwards' : 'Backwards'}
        </Button>
      </Stack>
      <Button
        sx={{ alignSelf: 'flex-start', ml: -0.6, py: 0 }}
        onClick={() => set({ held: held === undefined ? frame : null })}
      >
        {held === undefined ? 'Hold this frame' : `Held at ${held}: let it run`}
      </Button>
    </Stack>
  )
}
