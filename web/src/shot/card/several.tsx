/** What can be done with all that is selected, where several elements are. */

import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { memo, useState } from 'react'
import { useStore } from 'react-redux'
import { allKeyed, keyAll, tagAll } from '../../../../core/shot'
import { useAppSelector, type AppStore } from '../../store'
import { selectDocument, selectElementIds } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { elementActs, type ElementAct } from '../column/element-acts'

export const Several = memo(function Several() {
  const store = useStore() as unknown as AppStore
  const count = useAppSelector(selectElementIds).length
  const [tag, setTag] = useState('')
  const keyed = useAppSelector((state) => {
    const shot = selectDocument(state)
    return shot !== null && allKeyed(shot, selectElementIds(state), state.view.playing.frame)
  })
  if (count < 2) return null
  const keyOpacity: ElementAct = (state, dispatch) => {
    const shot = selectDocument(state)
    const edit = shot && keyAll(shot, selectElementIds(state), state.view.playing.frame)
    if (edit) dispatch(shotActions.edited(edit))
  }
  const addTag = () => {
    const state = store.getState()
    const shot = selectDocument(state)
    const edit = shot && tagAll(shot, selectElementIds(state), tag)
    if (edit) store.dispatch(shotActions.edited(edit))
    setTag('')
  }
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
      <Stack direction="row" sx={{ alignItems: 'center', gap: 1 }}>
        {button(keyed ? 'Remove keyframes here' : 'Keyframe opacity here', keyOpacity)}
        <TextField
          size="small"
          variant="standard"
          placeholder="Add a tag to all"
          value={tag}
          sx={{ flex: 1 }}
          slotProps={{ htmlInput: { 'aria-label': 'Add a tag to all', maxLength: 40 } }}
          onChange={({ target }) => setTag(target.value)}
          onKeyDown={(event) => {
            event.stopPropagation()
            if (event.key === 'Enter') addTag()
          }}
        />
      </Stack>
      <Typography variant="caption" color="textSecondary">
        A number of element or blend that is changed below is changed on all of them.
      </Typography>
    </Stack>
  )
})
