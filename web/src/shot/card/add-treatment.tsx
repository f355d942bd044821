/** Adds a treatment to an element; one that reads a source is offered where there is a source that it can read. */

import Button from '@mui/material/Button'
import ListItemText from '@mui/material/ListItemText'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import { useState } from 'react'
import type { Change, UseOwner } from '../../../../core/shot'
import { treatmentKinds, treatments } from '../../../../core/treatments'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument, selectSources } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { additionOf } from './treatment-sources'

export function AddTreatment({ owner }: { owner: UseOwner }) {
  const dispatch = useAppDispatch()
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const add = (edit: Change) => {
    setAnchor(null)
    dispatch(shotActions.edited(edit))
  }
  return (
    <>
      <Button sx={{ alignSelf: 'flex-start', ml: -0.6 }} onClick={(event) => setAnchor(event.currentTarget)}>
        Add a treatment …
      </Button>
      {anchor && (
        <Menu anchorEl={anchor} open onClose={() => setAnchor(null)}>
          <Kinds owner={owner} onAdd={add} />
        </Menu>
      )}
    </>
  )
}

function Kinds({ owner, onAdd }: { owner: UseOwner; onAdd: (edit: Change) => void }) {
  const shot = useAppSelector(selectDocument)
  const sources = useAppSelector(selectSources)
  if (!shot) return null
  return treatmentKinds.map((kind) => {
    const edit = additionOf(kind, owner, shot, sources)
    return (
      <MenuItem key={kind} dense disabled={!edit} onClick={() => edit && onAdd(edit)}>
        <ListItemText primary={treatments[kind].label} secondary={edit ? null : 'import what it reads first'} />
      </MenuItem>
    )
  })
}
