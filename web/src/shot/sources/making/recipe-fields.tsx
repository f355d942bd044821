/** What a source is made of, and how: each field is part of its recipe. */

import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import { useStore } from 'react-redux'
import {
  type CleanPlateRecipe,
  elementsInOrder,
  mediaKind,
  type MotionBlurRecipe,
  type Recipe,
  type SoftMatteRecipe,
} from '../../../../../core/shot'
import { motionModels } from '../../../../../core/motion/fitted-motion'
import { useAppSelector } from '../../../store'
import { selectDocument, selectMattes, selectSources } from '../../../store/selectors'
import type { RootState } from '../../../store/state'
import { LabelledNumber } from '../../card/labelled-number'
import { PinFields } from '../../card/pin'

interface FieldsProps<R extends Recipe> {
  readonly source: string
  readonly recipe: R
  readonly onSet: (recipe: R) => void
}

interface ChoiceProps {
  readonly label: string
  readonly value: string
  readonly choices: readonly { readonly id: string; readonly name: string }[]
  /** what choosing none means */
  readonly none?: string
  readonly onChoose: (id: string) => void
}

function Choice({ label, value, choices, none, onChoose }: ChoiceProps) {
  return (
    <TextField
      select
      size="small"
      variant="standard"
      label={label}
      value={choices.some(({ id }) => id === value) ? value : ''}
      slotProps={none === undefined ? {} : { select: { displayEmpty: true }, inputLabel: { shrink: true } }}
      onChange={({ target }) => onChoose(target.value)}
    >
      {none !== undefined && (
        <MenuItem value="" dense>
          {none}
        </MenuItem>
      )}
      {choices.map(({ id, name }) => (
        <MenuItem key={id} value={id} dense>
          {name}
        </MenuItem>
      ))}
    </TextField>
  )
}

/** The recipe without a field, or with another value of it. */
function withOr<R extends object, K extends keyof R>(recipe: R, name: K, value: R[K] | ''): R {
  const { [name]: _before, ...rest } = recipe
  return (value === '' ? rest : { ...rest, [name]: value }) as R
}

/** Sequences of pictures, but for the source that is made itself. */
const useSequences = (source: string) =>
  useAppSelector(selectSources).filter(
    ({ id, path, frames, forComparing }) => id !== source && frames && !forComparing && mediaKind(path) === 'picture',
  )

export function CleanPlateFields({ source, recipe, onSet }: FieldsProps<CleanPlateRecipe>) {
  const store = useStore<RootState>()
  const sources = useSequences(source)
  const mattes = useAppSelector(selectMattes)
  const frames = { step: 1, least: -1_000_000, most: 1_000_000, digits: 0 }
  return (
    <>
      <Choice
        label="Joined from"
        value={recipe.source}
        choices={sources}
        onChoose={(id) => onSet({ ...recipe, source: id, part: null })}
      />
      <LabelledNumber
        text="From frame"
        value={recipe.from}
        {...frames}
        onCommit={(from) => onSet({ ...recipe, from })}
      />
      <LabelledNumber text="To frame" value={recipe.to} {...frames} onCommit={(to) => onSet({ ...recipe, to })} />
      <LabelledNumber
        text="Step, frames"
        value={recipe.step}
        {...{ ...frames, least: 1, most: 1000 }}
        onCommit={(step) => onSet({ ...recipe, step })}
      />
      <Choice
        label="Leaves out what is in"
        value={recipe.without ?? ''}
        choices={mattes}
        none="no matte: where frames agree"
        onChoose={(id) => onSet(withOr(recipe, 'without', id))}
      />
      <FormControlLabel
        sx={{ my: -0.5 }}
        slotProps={{ typography: { variant: 'body2' } }}
        control={
          <Checkbox
            size="small"
            checked={recipe.uneven === undefined}
            onChange={(_event, on) => onSet(withOr(recipe, 'uneven', on ? '' : true))}
          />
        }
        label="Light evened to the first frame"
      />
      <PinFields
        label="Laid over each other"
        title={recipe.pin ? `Laid over each other, as on ${recipe.pin.frame}` : 'Camera moves: lay over each other by'}
        none="Where the camera moves, track points of the plate first (Shift T), so that the frames can be laid over each other."
        pin={recipe.pin ?? null}
        models={motionModels}
        onSet={(pin) => onSet(withOr(recipe, 'pin', pin ?? ''))}
        here={{
          text: 'As on this frame',
          act: () =>
            recipe.pin && onSet({ ...recipe, pin: { ...recipe.pin, frame: store.getState().view.playing.frame } }),
        }}
        unpin="As they are"
        by="By their"
      />
    </>
  )
}

export function MotionBlurFields({ source, recipe, onSet }: FieldsProps<MotionBlurRecipe>) {
  const sources = useSequences(source)
  return (
    <>
      <Choice
        label="Blurred by its motion"
        value={recipe.source}
        choices={sources}
        onChoose={(id) => onSet({ ...recipe, source: id, part: null })}
      />
      <LabelledNumber
        text="Shutter, degrees"
        value={recipe.angle}
        {...{ step: 1, least: 1, most: 720, digits: 0 }}
        onCommit={(angle) => onSet({ ...recipe, angle })}
      />
    </>
  )
}

export function SoftMatteFields({ recipe, onSet }: FieldsProps<SoftMatteRecipe>) {
  const shot = useAppSelector(selectDocument)
  const mattes = useAppSelector(selectMattes)
  const elements = shot ? elementsInOrder(shot).map(({ element }) => element) : []
  const pixels = { step: 0.5, least: 0, most: 64, digits: 1 }
  return (
    <>
      <Choice
        label="Cut out of"
        value={recipe.element}
        choices={elements}
        onChoose={(element) => onSet({ ...recipe, element })}
      />
      <Choice label="Along" value={recipe.matte} choices={mattes} onChoose={(matte) => onSet({ ...recipe, matte })} />
      <LabelledNumber
        text="Unsure inside, px"
        value={recipe.inside}
        {...pixels}
        onCommit={(inside) => onSet({ ...recipe, inside })}
      />
      <LabelledNumber
        text="Unsure outside, px"
        value={recipe.outside}
        {...pixels}
        onCommit={(outside) => onSet({ ...recipe, outside })}
      />
      <Choice
        label="More that is unsure"
        value={recipe.band ?? ''}
        choices={mattes}
        none="none"
        onChoose={(id) => onSet(withOr(recipe, 'band', id))}
      />
    </>
  )
}
