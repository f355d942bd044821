/** Whether it plays, at what rate, and how many frames could not be shown in time. */

import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument } from '../../store/selectors'
import { playToggled, viewChanged } from '../../store/view'
import { Said, Toggle, Word, type Choice } from './word'

const everies: readonly Choice<1 | 2 | 4>[] = [
  { value: 1, text: 'every frame' },
  { value: 2, text: 'every 2nd frame' },
  { value: 4, text: 'every 4th frame' },
]

export function Playing() {
  const dispatch = useAppDispatch()
  const playing = useAppSelector((state) => state.view.playing.playing)
  const played = useAppSelector((state) => state.view.playing.played)
  const every = useAppSelector((state) => state.view.playing.every)
  const playRange = useAppSelector((state) => state.view.playing.range)
  const rate = useAppSelector((state) => selectDocument(state)?.rate)
  if (!rate) return null
  const perSecond = Number((rate.numerator / rate.denominator / every).toFixed(3))
  return (
    <>
      <Said>, </Said>
      <Toggle
        name="Playing"
        text={playing ? `playing ${perSecond} a second` : 'paused'}
        onToggle={() => dispatch(playToggled())}
      />
      <Said>, </Said>
      <Word
        name="Frames that are played"
        choices={everies}
        value={every}
        onChoose={(value) => dispatch(viewChanged({ playing: { every: value } }))}
      />
      {playRange && (
        <Said>
          {' '}
          of {playRange.first} to {playRange.last}
        </Said>
      )}
      {played && (playing || played.shown + played.dropped > 0) && (
        <Said>
          {played.dropped === 0 ? ', none dropped' : `, ${played.dropped} of ${played.shown + played.dropped} dropped`}
        </Said>
      )}
    </>
  )
}
