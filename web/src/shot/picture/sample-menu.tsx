/** What can be done with a sample: name it, let it follow an element or a track, remove it. */

import Button from '@mui/material/Button'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import { useState } from 'react'
import { useStore } from 'react-redux'
import { newWitness, type Followed, type SingleChange } from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument, selectElement, selectSamples, selectTracks, type PlacedSample } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'

const regionOf = ({ x, y, width, height }: PlacedSample) => ({ x, y, width, height })

export function SampleMenu({ sample, onRename }: { sample: PlacedSample; onRename: () => void }) {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const element = useAppSelector(selectElement)
  const isPlate = useAppSelector((state) => selectDocument(state)?.plate === element?.id)
  const tracks = useAppSelector(selectTracks)
  const { id, x, y } = sample
  const others = useAppSelector(selectSamples).filter(({ id: other }) => other !== sample.id)
  /** This place of the plate, and the element at another: both become a witness, and are samples no more. */
  const pair = (other: PlacedSample) => {
    const { shot } = store.getState().shot
    if (!shot || !element) return
    const witness = newWitness(shot, regionOf(sample), regionOf(other), element.id)
    const changes: readonly SingleChange[] = [
      { kind: 'add-witness', witness },
      { kind: 'remove-sample', sample: sample.id },
      { kind: 'remove-sample', sample: other.id },
    ]
    dispatch(shotActions.edited({ kind: 'together', changes, label: `Witness ${witness.name}` }))
    dispatch(shotActions.thingSelected({ kind: 'witness', id: witness.id }))
  }
  const act = (what: () => void) => () => {
    setAnchor(null)
    what()
  }
  /** From here on it moves as the element or the track does; or it stays where it is now. */
  const follow = (wanted: { readonly element: string } | { readonly track: string } | null) => {
    const { frame } = store.getState().view.playing
    const follows: Followed | null = wanted === null ? null : { ...wanted, frame }
    dispatch(shotActions.edited({ kind: 'set-sample', sample: id, changes: { x, y, follows } }))
  }
  return (
    <>
      <Button
        aria-label={`More of sample ${sample.name}`}
        aria-haspopup="menu"
        sx={{ minWidth: 0, px: 0.5, py: 0, mr: -0.5 }}
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        …
      </Button>
      {anchor && (
        <Menu open anchorEl={anchor} onClose={() => setAnchor(null)} disableRestoreFocus>
          <MenuItem dense onClick={act(onRename)}>
            Rename
          </MenuItem>
          {element && !isPlate && element.id !== sample.follows?.element && (
            <MenuItem dense onClick={act(() => follow({ element: element.id }))}>
              Follow {element.name}
            </MenuItem>
          )}
          {tracks
            .filter((track) => track.id !== sample.follows?.track)
            .map((track) => (
              <MenuItem key={track.id} dense onClick={act(() => follow({ track: track.id }))}>
                Follow {track.name}
              </MenuItem>
            ))}
          {sample.follows !== null && (
            <MenuItem dense onClick={act(() => follow(null))}>
              Stay where it is
            </MenuItem>
          )}
          {element &&
            !isPlate &&
            others.map((other) => (
              <MenuItem key={other.id} dense onClick={act(() => pair(other))}>
                Ought to be matched by {element.name} at {other.name}
              </MenuItem>
            ))}
          <MenuItem dense onClick={act(() => dispatch(shotActions.edited({ kind: 'remove-sample', sample: id })))}>
            Remove
          </MenuItem>
        </Menu>
      )}
    </>
  )
}
