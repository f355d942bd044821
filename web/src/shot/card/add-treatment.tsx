/** Adds a treatment to an element; one that reads a source is offered where there is a source that it can read. */

import Button from '@mui/material/Button'
import ListItemText from '@mui/material/ListItemText'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import { useState } from 'react'
import type { Element, TreatmentSettings } from '../../../../core/shot'
import { treatmentKinds, treatments } from '../../../../core/treatments'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { settingsFor } from './treatment-sources'

export function AddTreatment({ element }: { element: Element }) {
  const dispatch = useAppDispatch()
  const sources = useAppSelector((state) => selectDocument(state)?.sources) ?? []
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const add = (settings: TreatmentSettings) => {
    setAnchor(null)
    dispatch(shotActions.edited({ kind: 'add-treatment', element: element.id, settings }))
  }
  return (
    <>
      <Button sx={{ alignSelf: 'flex-start', ml: -0.6 }} onClick={(event) => setAnchor(event.currentTarget)}>
        Add a treatment …
      </Button>
      {anchor && (
        <Menu anchorEl={anchor} open onClose={() => setAnchor(null)}>
          {treatmentKinds.map((kind) => {
            const settings = settingsFor(kind, element.treatments, sources)
            return (
              <MenuItem key={kind} dense disabled={!settings} onClick={() => settings && add(settings)}>
                <ListItemText
                  primary={treatments[kind].label}
                  secondary={settings ? null : 'bring in what it reads first'}
                />
              </MenuItem>
            )
          })}
        </Menu>
      )}
    </>
  )
}
