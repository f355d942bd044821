/** What the picture is compared with, and how. */

import { useStore } from 'react-redux'
import { newId, nextTryName } from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'
import { viewChanged, type How, type Other, type ViewState } from '../../store/view'
import { selectNames, wordsOf } from '../other-text'
import { middleSplit } from '../shortcuts'
import { Said, Toggle, Word } from './word'

const wayText: Record<How['way'], string> = {
  not: 'not compared with',
  split: 'split with',
  difference: 'as the difference from',
}

const gains = [1, 2, 4, 8, 16, 32]

export function Compared() {
  const dispatch = useAppDispatch()
  const how = useAppSelector((state) => state.view.comparing.how)
  const other = useAppSelector((state) => state.view.comparing.other)
  const store = useStore<RootState>()
  const names = useAppSelector(selectNames)
  const frameSize = useAppSelector((state) => selectDocument(state)?.frameSize) ?? { width: 2, height: 2 }
  const change = (comparing: Partial<ViewState['comparing']>) => dispatch(viewChanged({ comparing }))
  const ways = (['not', 'split', 'difference'] as const).map((value) => ({ value, text: wayText[value] }))
  const chooseWay = (way: How['way']) =>
    change({ how: way === 'split' ? middleSplit(frameSize) : way === 'difference' ? { way, gain: 4 } : { way } })
  const others: readonly Other[] = [
    { kind: 'plate' },
    { kind: 'element' },
    { kind: 'untreated' },
    other.kind === 'frame' ? other : { kind: 'frame', frame: store.getState().view.playing.frame },
    ...(other.kind === 'revision' ? [other] : []),
    ...names.references.map(({ id }) => ({ kind: 'source' as const, id })),
    ...names.uses.filter(({ own }) => own).map(({ id }) => ({ kind: 'without' as const, use: id })),
    ...names.tries.map(({ id }) => ({ kind: 'try' as const, id })),
  ]
  return (
    <>
      <Word name="How it is compared" choices={ways} value={how.way} onChoose={chooseWay} />
      <Said> </Said>
      <Word
        name="The other"
        mayShrink
        choices={others.map((value) => ({ value, text: wordsOf(value, names) }))}
        value={other}
        onChoose={(value) =>
          change({
            other: value.kind === 'frame' ? { kind: 'frame', frame: store.getState().view.playing.frame } : value,
          })
        }
      >
        {wordsOf(other, names)}
      </Word>
      {other.kind === 'try' && names.tries.some(({ id }) => id === other.id) && <TryDoing id={other.id} />}
      {how.way === 'difference' && (
        <>
          <Said> × </Said>
          <Word
            name="Gain of the difference"
            choices={gains.map((value) => ({ value, text: String(value) }))}
            value={how.gain}
            onChoose={(gain) => change({ how: { way: 'difference', gain } })}
          />
        </>
      )}
      <Said>, </Said>
    </>
  )
}

/** What can be done with the try that is compared with. */
function TryDoing({ id }: { id: string }) {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const use = () => {
    const shot = selectDocument(store.getState())
    if (shot) dispatch(shotActions.edited({ kind: 'use-try', id, keepAs: { id: newId(), name: nextTryName(shot) } }))
  }
  const remove = () => {
    dispatch(viewChanged({ comparing: { other: { kind: 'plate' } } }))
    dispatch(shotActions.edited({ kind: 'remove-try', id }))
  }
  return (
    <>
      <Said> (</Said>
      <Toggle name="Use the try" text="use it" onToggle={use} />
      <Said>, </Said>
      <Toggle name="Remove the try" text="remove it" onToggle={remove} />
      <Said>)</Said>
    </>
  )
}
