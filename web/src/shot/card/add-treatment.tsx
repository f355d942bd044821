/** Adds a treatment, found by what it should do; or one more use of settings that act elsewhere already. */

import Button from '@mui/material/Button'
import List from '@mui/material/List'
import ListItemButton from '@mui/material/ListItemButton'
import ListItemText from '@mui/material/ListItemText'
import ListSubheader from '@mui/material/ListSubheader'
import Popover from '@mui/material/Popover'
import TextField from '@mui/material/TextField'
import { memo, useState } from 'react'
import { belongsTo, type Change, type UseOwner } from '../../../../core/shot'
import { treatments } from '../../../../core/treatments'
import { findTreatments } from '../../../../core/treatments/search'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument, selectSources } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { additionOf, shareableWith } from './treatment-sources'

const listWidth = 260

export const AddTreatment = memo(function AddTreatment({ owner }: { owner: UseOwner }) {
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
        <Popover anchorEl={anchor} open onClose={() => setAnchor(null)}>
          <Choices owner={owner} onAdd={add} />
        </Popover>
      )}
    </>
  )
})

function Choices({ owner, onAdd }: { owner: UseOwner; onAdd: (edit: Change) => void }) {
  const shot = useAppSelector(selectDocument)
  const sources = useAppSelector(selectSources)
  const [text, setText] = useState('')
  if (!shot) return null
  const kinds = findTreatments(text).filter((kind) => belongsTo(kind, owner))
  const found = kinds.map((kind) => ({ kind, edit: additionOf(kind, owner, shot, sources) }))
  const shared = shareableWith(owner, shot).filter(({ kind }) => kinds.includes(kind))
  const first = found.find(({ edit }) => edit)?.edit
  return (
    <>
      <TextField
        autoFocus
        fullWidth
        size="small"
        variant="standard"
        placeholder="What should it do?"
        value={text}
        slotProps={{ htmlInput: { 'aria-label': 'What should it do?' } }}
        sx={{ px: 2, pt: 1 }}
        onChange={({ target }) => setText(target.value)}
        onKeyDown={(event) => {
          event.stopPropagation()
          if (event.key !== 'Enter' || !first) return
          // Else the key would press the button to which the focus goes back.
          event.preventDefault()
          onAdd(first)
        }}
      />
      <List dense aria-label="Treatments" sx={{ width: listWidth, maxHeight: 420, overflow: 'auto' }}>
        {found.map(({ kind, edit }) => (
          <ListItemButton key={kind} disabled={!edit} onClick={() => edit && onAdd(edit)}>
            <ListItemText
              primary={treatments[kind].label}
              secondary={edit ? treatments[kind].does.slice(0, 3).join(', ') : 'import what it reads first'}
            />
          </ListItemButton>
        ))}
        {found.length === 0 && <ListItemText sx={{ px: 2 }} secondary="Nothing does that yet. Try another word." />}
        {shared.length > 0 && <ListSubheader sx={{ lineHeight: '28px' }}>Share the settings of</ListSubheader>}
        {shared.map(({ treatment, words, edit }) => (
          <ListItemButton key={treatment} onClick={() => onAdd(edit)}>
            <ListItemText primary={words} />
          </ListItemButton>
        ))}
      </List>
    </>
  )
}
