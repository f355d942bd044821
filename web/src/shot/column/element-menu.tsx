/** What can be done with the chosen elements. */

import Divider from '@mui/material/Divider'
import ListItemText from '@mui/material/ListItemText'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import Typography from '@mui/material/Typography'
import { useStore } from 'react-redux'
import { isGroup } from '../../../../core/shot'
import type { AppStore } from '../../store'
import { useAppSelector } from '../../store'
import { selectDocument, selectElement, selectElementIds } from '../../store/selectors'
import { elementActs, type ElementAct } from './element-acts'

interface ElementMenuProps {
  /** in the window; null: it is closed */
  readonly at: { readonly x: number; readonly y: number } | null
  readonly onClose: () => void
  readonly onRename: () => void
}

export function ElementMenu({ at, onClose, onRename }: ElementMenuProps) {
  const store = useStore() as unknown as AppStore
  const element = useAppSelector(selectElement)
  const several = useAppSelector(selectElementIds).length > 1
  const isPlate = useAppSelector((state) => selectDocument(state)?.plate === element?.id)
  if (!at || !element) return null
  const item = (name: string, key: string, act: ElementAct) => (
    <MenuItem
      dense
      onClick={() => {
        onClose()
        act(store.getState(), store.dispatch)
      }}
    >
      <ListItemText>{name}</ListItemText>
      <Typography variant="caption" color="textSecondary" sx={{ pl: 3 }}>
        {key}
      </Typography>
    </MenuItem>
  )
  const changeable = several || !isPlate
  return (
    <Menu
      open
      disableRestoreFocus
      onClose={onClose}
      anchorReference="anchorPosition"
      anchorPosition={{ left: at.x, top: at.y }}
    >
      {!several && item('Rename', 'double click', onRename)}
      {changeable && item('Hide or show', '', elementActs.toggle)}
      {changeable && item('Duplicate', 'Ctrl D', elementActs.duplicate)}
      {changeable && item('Group', 'Ctrl G', elementActs.group)}
      {!several && isGroup(element) && item('Take the group apart', '', elementActs.ungroup)}
      {changeable && item('Nearer', 'Alt ↓', elementActs.nearer)}
      {changeable && item('Farther', 'Alt ↑', elementActs.farther)}
      <Divider />
      {changeable && item('Copy', 'Ctrl C', elementActs.copy)}
      {item('Paste in front', 'Ctrl V', elementActs.paste)}
      <Divider />
      {changeable && item('Remove', 'Delete', elementActs.remove)}
    </Menu>
  )
}
