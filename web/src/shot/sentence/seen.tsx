/** What is shown, and how it is seen: through which screen, how bright, cranked how, which channel. */

import Box from '@mui/material/Box'
import { Fragment } from 'react'
import { shallowEqual } from 'react-redux'
import {
  cranks,
  lookedChannels,
  screens,
  type Crank,
  type LookedChannel,
  type Screen,
} from '../../../../core/look/looking'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectTables } from '../../store/selectors'
import type { RootState } from '../../store/state'
import { viewChanged, type ViewState } from '../../store/view'
import { DragNumber } from '../card/drag-number'
import { selectNames, shownWords } from '../other-text'
import { Said, Toggle, Word } from './word'

const channelText: Record<LookedChannel, string> = {
  all: 'all channels',
  red: 'red only',
  green: 'green only',
  blue: 'blue only',
  alpha: 'alpha',
  luma: 'luma',
  hue: 'hue',
  saturation: 'saturation',
  value: 'value',
}
const channels = lookedChannels.map((value) => ({ value, text: channelText[value] }))
const crankText: Record<Crank, string> = {
  none: 'not cranked',
  dark: 'dark end cranked',
  bright: 'bright end cranked',
  vivid: 'colour cranked',
}
const cranksToChoose = cranks.map((value) => ({ value, text: crankText[value] }))
const screenText: Record<Screen, string> = { srgb: 'sRGB', bt1886: 'BT.1886', 'p3-d65': 'P3-D65' }
const screensToChoose = screens.map((value) => ({ value, text: screenText[value] }))
const numbers = [
  {
    name: 'exposure',
    before: ', ',
    label: 'Exposure in stops',
    step: 0.1,
    least: -10,
    most: 10,
    digits: 1,
    signed: true,
  },
  { name: 'gamma', before: ' stops, gamma ', label: 'Gamma of the view', step: 0.01, least: 0.2, most: 5, digits: 2 },
  {
    name: 'saturation',
    before: ', saturation ',
    label: 'Saturation of the view',
    step: 0.01,
    least: 0,
    most: 8,
    digits: 2,
  },
] as const
/** Narrower than on a card, so that the line holds. */
const numberWidth = 42
/** Only what is said here: the frame changes many times a second while it plays. */
const selectSeen = ({ view }: RootState) => {
  const { shown, node, ghost, screen, table, exposure, gamma, saturation, crank, channel, marks } = view.looking
  const { other } = view.comparing
  return { shown, node, ghost, other, screen, table, exposure, gamma, saturation, crank, channel, marks }
}

export function Seen() {
  const dispatch = useAppDispatch()
  const view = useAppSelector(selectSeen, shallowEqual)
  const names = useAppSelector(selectNames)
  const change = (looking: Partial<ViewState['looking']>) => dispatch(viewChanged({ looking }))
  const tables = useAppSelector(selectTables)
  const values = [
    'composite',
    'plate',
    'element',
    'untreated',
    'other',
    ...(view.node ? (['node'] as const) : []),
  ] as const
  const shown = values.map((value) => ({ value, text: shownWords(value, names, view.other, view.node) }))
  return (
    <>
      <Word
        name="What is shown"
        mayShrink
        choices={shown}
        value={view.shown}
        onChoose={(value) => change({ shown: value })}
      />
      <Said> seen through </Said>
      <Word
        name="Screen"
        choices={[
          ...screensToChoose.map(({ value, text }) => ({ value: value as string, text })),
          ...tables.map(({ id, name }) => ({ value: id, text: `the table ${name}` })),
        ]}
        value={view.table ?? view.screen}
        onChoose={(value) => {
          const screen = screens.find((one) => one === value)
          change(screen ? { screen, table: null } : { table: value })
        }}
      />
      {numbers.map(({ name, before, ...number }) => (
        <Fragment key={name}>
          <Said>{before}</Said>
          <Box sx={{ width: numberWidth }}>
            <DragNumber
              {...number}
              value={view[name]}
              onChange={(value) => change({ [name]: value })}
              onCommit={(value) => change({ [name]: value })}
            />
          </Box>
        </Fragment>
      ))}
      <Said>, </Said>
      <Word name="Crank" choices={cranksToChoose} value={view.crank} onChoose={(crank) => change({ crank })} />
      <Said>, </Said>
      <Word name="Channel" choices={channels} value={view.channel} onChoose={(channel) => change({ channel })} />
      <Said>, </Said>
      <Toggle name="Marks" text={view.marks ? 'marked' : 'unmarked'} onToggle={() => change({ marks: !view.marks })} />
      <Said>, plate over it </Said>
      <Box sx={{ width: numberWidth }}>
        <DragNumber
          label="Strength of the plate over it, in per cent"
          value={view.ghost * 100}
          dim={view.ghost === 0}
          step={1}
          least={0}
          most={100}
          digits={0}
          onChange={(value) => change({ ghost: value / 100 })}
          onCommit={(value) => change({ ghost: value / 100 })}
        />
      </Box>
      <Said> %</Said>
    </>
  )
}
