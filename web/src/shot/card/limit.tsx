/** How far a treatment counts, and where: a matte, inverted or not, and an amount. */

import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import { limitDescription } from '../../../../core/set/owners'
import {
  allOf,
  elementsInOrder,
  find,
  type Limit as LimitSettings,
  type MatteReference,
  mattesOf,
  mediaKind,
  newLimit,
  type Shot,
  sourcesByName,
  type Use,
} from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { viewChanged } from '../../store/view'
import { ParameterRow } from './parameter-row'
import { Section } from './section'

interface Choice {
  readonly value: string
  readonly text: string
  readonly matte: MatteReference | null
}

function choicesIn(shot: Shot, owner: Use['owner']): Choice[] {
  const elements = elementsInOrder(shot)
    .filter(({ element }) => element.id !== shot.plate)
    .map(({ element }): Choice => ({
      value: `element ${element.id}`,
      text: `the alpha of ${element.name}`,
      matte: { kind: 'element', element: element.id },
    }))
  const own = owner.kind === 'element' ? find(shot.elements, owner.id) : undefined
  const ownSources = new Set(
    (own ? allOf(own.inputs) : []).flatMap((input) => (input.kind === 'pass' ? [input.source] : [])),
  )
  const sources = sourcesByName(shot)
    .filter(({ path }) => mediaKind(path) === 'picture')
    .map(({ id, name }): Choice => ({
      value: `source ${id}`,
      text: `the first channel of ${name}`,
      // What comes from the element's own files lies in the element, and moves along with it.
      matte: { kind: 'source', source: id, part: null, channel: null, lies: ownSources.has(id) ? 'element' : 'frame' },
    }))
  const mattes = mattesOf(shot).map(({ id, name }): Choice => ({
    value: `matte ${id}`,
    text: name,
    matte: { kind: 'matte', matte: id },
  }))
  return [{ value: 'everywhere', text: 'everywhere', matte: null }, ...mattes, ...elements, ...sources]
}

function valueOf(matte: MatteReference | null): string {
  if (!matte) return 'everywhere'
  if (matte.kind === 'matte') return `matte ${matte.matte}`
  return matte.kind === 'element' ? `element ${matte.element}` : `source ${matte.source}`
}

function summaryOf(limit: LimitSettings | null, choices: readonly Choice[]): string {
  if (!limit) return 'wholly, everywhere'
  const where = choices.find(({ value }) => value === valueOf(limit.matte))?.text ?? 'a matte that is gone'
  return `${where}${limit.inverted ? ', inverted' : ''}`
}

/** @param open it says what the treatment does: there is nothing else to be set */
export function Limit({ use, open = false }: { use: Use; open?: boolean }) {
  const dispatch = useAppDispatch()
  const shot = useAppSelector(selectDocument)
  if (!shot) return null
  const { limit } = use
  const choices = choicesIn(shot, use.owner)
  const set = (next: LimitSettings | null) =>
    dispatch(shotActions.edited({ kind: 'set-limit', use: use.id, limit: next }))
  const choose = (value: string) => {
    const matte = choices.find((one) => one.value === value)?.matte ?? null
    set(limit ? { ...limit, matte } : newLimit(matte))
  }
  const [amount] = limitDescription.parameters
  return (
    <Section name="Limit" summary={summaryOf(limit, choices)} open={open}>
      <TextField
        select
        size="small"
        variant="standard"
        label="Where it counts"
        value={
          choices.some(({ value }) => value === valueOf(limit?.matte ?? null)) ? valueOf(limit?.matte ?? null) : ''
        }
        onChange={({ target: { value } }) => choose(value)}
      >
        {choices.map(({ value, text }) => (
          <MenuItem key={value} value={value} dense>
            {text}
          </MenuItem>
        ))}
      </TextField>
      {limit && (
        <>
          <ParameterRow
            parameter={amount}
            owner={{ kind: 'limit', use: use.id }}
            curves={limit.parameters[amount.name]}
          />
          {limit.matte?.kind === 'matte' && <OpenMatte id={limit.matte.matte} />}
          <Stack direction="row" sx={{ ml: -0.6 }}>
            {limit.matte && (
              <Button onClick={() => set({ ...limit, inverted: !limit.inverted })}>
                {limit.inverted ? 'Not inverted' : 'Invert'}
              </Button>
            )}
            {limit.matte && (
              <Button
                onClick={() =>
                  dispatch(viewChanged({ looking: { shown: 'node', node: { kind: 'limit', use: use.id } } }))
                }
              >
                Show the matte
              </Button>
            )}
            <Button onClick={() => set(null)}>No limit</Button>
          </Stack>
        </>
      )}
      {!limit && (
        <Button sx={{ alignSelf: 'flex-start', ml: -0.6 }} onClick={() => set(newLimit(null))}>
          Mix it in by an amount
        </Button>
      )}
    </Section>
  )
}

/** To its card; where nothing is drawn of it yet, with the tool in hand that draws it. */
function OpenMatte({ id }: { id: string }) {
  const dispatch = useAppDispatch()
  const matte = useAppSelector((state) => {
    const shot = selectDocument(state)
    return shot ? (find(shot.mattes, id) ?? null) : null
  })
  if (!matte) return null
  const empty = matte.kind === 'drawn' && allOf(matte.shapes).length === 0
  return (
    <Button
      sx={{ alignSelf: 'flex-start', ml: -0.6 }}
      onClick={() => {
        dispatch(shotActions.thingSelected({ kind: 'matte', id }))
        if (empty) dispatch(viewChanged({ screen: { tool: 'outline' } }))
      }}
    >
      {empty ? `Draw ${matte.name}` : `Open ${matte.name}`}
    </Button>
  )
}
