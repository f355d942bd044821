/** What an element is made of: its passes, each with colour, exposure and time of its own. */

import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { inputDescriptions } from '../../../../core/set/owners'
import {
  find,
  inOrder,
  type Element,
  type ElementInput,
  type Input,
  type PassInput,
  type Timing,
} from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { viewChanged } from '../../store/view'
import { WholeNumber } from '../sources/claim-fields'
import { ChannelNames } from './channel-names'
import { DragNumber } from './drag-number'
import { ParameterRow } from './parameter-row'
import { Section } from './section'

type Timed = PassInput | ElementInput
const isTimed = (input: Input): input is Timed => input.kind === 'pass' || input.kind === 'element'

const beyondWords = {
  nothing: 'nothing',
  hold: 'its last frame',
  loop: 'from the start',
  'ping-pong': 'back and forth',
}
type Beyond = keyof typeof beyondWords

function summaryOf(inputs: readonly Input[]): string {
  const passes = inputs.filter(({ kind }) => kind === 'pass').length
  const timed = inputs.some((input) => isTimed(input) && input.timing && Object.keys(input.timing).length > 0)
  return `${passes === 1 ? 'one pass' : `${passes} passes`}${timed ? ', in its own time' : ''}`
}

export function Inputs({ element }: { element: Element }) {
  const inputs = inOrder(element.inputs)
  return (
    <Section name="Made of" summary={summaryOf(inputs)}>
      {inputs.map((input) => (
        <OneInput key={input.id} element={element} input={input} />
      ))}
    </Section>
  )
}

function OneInput({ element, input }: { element: Element; input: Input }) {
  const dispatch = useAppDispatch()
  const named = useAppSelector((state) => nameOf(input, state.shot.shot))
  const description = inputDescriptions[input.kind]
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
function TimingRow({ element, input }: { element: Element; input: Timed }) {
  const dispatch = useAppDispatch()
  const frame = useAppSelector((state) => state.view.playing.frame)
  const { offset = 0, speed = 1, held, beyond = 'nothing' } = input.timing ?? {}
  const set = (changes: Timing) => {
    const timing = Object.fromEntries(
      Object.entries({ ...input.timing, ...changes }).filter(([, value]) => value !== undefined),
    )
    const { timing: _before, ...plain } = input
    const next = Object.keys(timing).length === 0 ? plain : { ...plain, timing }
    const inputs = { byId: { ...element.inputs.byId, [input.id]: next as Input } }
    dispatch(shotActions.edited({ kind: 'set-inputs', element: element.id, inputs }))
  }
  return (
    <Stack spacing={0.5}>
      <Stack direction="row" spacing={1} sx={{ alignItems: 'flex-end' }}>
        <WholeNumber
          label="Offset in frames"
          value={offset}
          onSet={(by) => set({ offset: by === 0 ? undefined : by })}
        />
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
            onCommit={(by) => set({ speed: by === 1 ? undefined : by })}
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
            set({ beyond: value === 'nothing' ? undefined : (value as Exclude<Beyond, 'nothing'>) })
          }
        >
          {(Object.keys(beyondWords) as Beyond[]).map((value) => (
            <MenuItem key={value} value={value} dense>
              {beyondWords[value]}
            </MenuItem>
          ))}
        </TextField>
      </Stack>
      <Button
        sx={{ alignSelf: 'flex-start', ml: -0.6, py: 0 }}
        onClick={() => set({ held: held === undefined ? frame : undefined })}
      >
        {held === undefined ? 'Hold this frame' : `Held at ${held}: let it run`}
      </Button>
    </Stack>
  )
}
