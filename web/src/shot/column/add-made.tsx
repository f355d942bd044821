/** Adds an element that is made here, in front of the selected one. */

import Button from '@mui/material/Button'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import { useState } from 'react'
import { useStore } from 'react-redux'
import { inputDescriptions } from '../../../../core/set/owners'
import { addMade, madeKinds, type MadeKind } from '../../../../core/shot'
import { useAppDispatch } from '../../store'
import { selectDocument, selectElementId } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'

export function AddMade() {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const add = (kind: MadeKind) => {
    setAnchor(null)
    const state = store.getState()
    const shot = selectDocument(state)
    if (!shot) return
    const edit = addMade(shot, kind, selectElementId(state))
    dispatch(shotActions.edited(edit))
    dispatch(shotActions.selected(edit.element.id))
  }
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
          <MenuItem key={kind} dense title={inputDescriptions[kind].help} onClick={() => add(kind)}>
            {inputDescriptions[kind].label}
          </MenuItem>
        ))}
      </Menu>
    </>
  )
}
