/** What can be done with all that is selected, where several elements are. */

import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { useStore } from 'react-redux'
import { useAppSelector, type AppStore } from '../../store'
import { selectElementIds } from '../../store/selectors'
import { elementActs, type ElementAct } from '../column/element-acts'

export function Several() {
  const store = useStore() as unknown as AppStore
  const count = useAppSelector(selectElementIds).length
  if (count < 2) return null
  const button = (words: string, act: ElementAct) => (
    <Button sx={{ minWidth: 0, px: 0.6 }} onClick={() => act(store.getState(), store.dispatch)}>
      {words}
    </Button>
  )
  return (
    <Stack role="group" aria-label="What is selected" sx={{ borderBottom: 1, borderColor: 'divider', pb: 0.5 }}>
      <Typography variant="body2">{count} elements are selected.</Typography>
      <Stack direction="row" sx={{ flexWrap: 'wrap', ml: -0.6 }}>
        {button('Group', elementActs.group)}
        {button('Duplicate', elementActs.duplicate)}
        {button('Hide or show', elementActs.toggle)}
        {button('Remove', elementActs.remove)}
      </Stack>
      <Typography variant="caption" color="textSecondary">
        A number of element or blend that is changed below is changed on all of them.
      </Typography>
    </Stack>
  )
}
