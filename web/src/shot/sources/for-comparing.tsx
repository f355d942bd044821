/** Whether a source is there to compare with only, as the edit's reference movie is. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import type { Source } from '../../../../core/shot'
import { useAppDispatch } from '../../store'
import { shotActions } from '../../store/shot-slice'
import { viewChanged } from '../../store/view'

export function ForComparing({ source }: { source: Source }) {
  const { id } = source
  const forComparing = source.forComparing === true
  const dispatch = useAppDispatch()
  const compare = () => dispatch(viewChanged({ comparing: { other: { kind: 'source', id } } }))
  return (
    <Box>
      <Button
        sx={{ ml: -0.6 }}
        onClick={() => {
          dispatch(
            shotActions.edited({
              kind: 'set-source',
              source: id,
              changes: { forComparing: forComparing ? null : true },
            }),
          )
          if (!forComparing) compare()
        }}
      >
        {forComparing ? 'Let it be used in the picture' : 'Use it for comparing only'}
      </Button>
      {forComparing && <Button onClick={compare}>Compare with it</Button>}
      <Typography variant="caption" color="textSecondary" component="div">
        {forComparing
          ? 'For comparing only: it is in no picture and no delivery. Hold O to look at it.'
          : 'For the edit’s reference movie and the like: never in a delivery.'}
      </Typography>
    </Box>
  )
}
