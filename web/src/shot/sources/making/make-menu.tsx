/** What can be made here of what there is: a menu at the sources. */

import Button from '@mui/material/Button'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import { useState } from 'react'
import type { Source } from '../../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../../store'
import { selectDocument, selectElementId } from '../../../store/selectors'
import { shotActions } from '../../../store/shot-slice'
import { madeSourcesOffered } from './new-made-source'

/** @param onMade the source is there, and selected */
export function MakeMenu({ onMade }: { onMade: () => void }) {
  const dispatch = useAppDispatch()
  const shot = useAppSelector(selectDocument)
  const element = useAppSelector(selectElementId)
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const add = (source: Source) => {
    setAnchor(null)
    dispatch(shotActions.edited({ kind: 'add-source', source }))
    dispatch(shotActions.sourceSelected(source.id))
    onMade()
  }
  return (
    <>
      <Button onClick={(event) => setAnchor(event.currentTarget)}>Make …</Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {anchor &&
          shot &&
          madeSourcesOffered(shot, element).map(({ text, source, wants }) => (
            <MenuItem key={text} dense disabled={!source} onClick={() => source && add(source())}>
              {source ? text : `${text} (${wants})`}
            </MenuItem>
          ))}
      </Menu>
    </>
  )
}
