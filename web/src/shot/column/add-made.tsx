/** Adds an element that is made here, in front of the selected one. */

import Button from '@mui/material/Button'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import { useState } from 'react'
import { useStore } from 'react-redux'
import { inputDescriptions } from '../../../../core/set/owners'
import {
  addMade,
  addShadowOf,
  find,
  madeKinds,
  type MadeKind,
  type Shot,
  type SingleChange,
} from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument, selectElementId } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'

export function AddMade() {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const shadowed = useAppSelector((state) => {
    const id = selectElementId(state)
    const shot = selectDocument(state)
    return shot && id !== null && id !== shot.plate ? find(shot.elements, id) : undefined
  })
  const add = (
    make: (shot: Shot, selected: string | null) => Extract<SingleChange, { kind: 'add-element' }> | null,
  ) => {
    setAnchor(null)
    const state = store.getState()
    const shot = selectDocument(state)
    const edit = shot && make(shot, selectElementId(state))
    if (!edit) return
    dispatch(shotActions.edited(edit))
    dispatch(shotActions.selected(edit.element.id))
  }
  const addKind = (kind: MadeKind) => add((shot, selected) => addMade(shot, kind, selected))
  return (
    <>
      <Button
        sx={{ ml: 'auto', minWidth: 0, py: 0, px: 0.8 }}
        aria-haspopup="menu"
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        Add made
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {madeKinds.map((kind) => (
          <MenuItem key={kind} dense title={inputDescriptions[kind].help} onClick={() => addKind(kind)}>
            {inputDescriptions[kind].label}
          </MenuItem>
        ))}
        {shadowed && (
          <MenuItem
            dense
            title="A shadow made of its coverage, right behind it, to be moved and laid over."
            onClick={() => add((shot) => addShadowOf(shot, shadowed.id))}
          >
            Shadow of {shadowed.name}
          </MenuItem>
        )}
      </Menu>
    </>
  )
}
