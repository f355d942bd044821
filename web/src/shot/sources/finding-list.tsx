/** Findings of the claims check: what, where, why, and one click that puts it right. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import type { Finding } from '../../../../core/check'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectSources } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { verdictMark } from './verdict-mark'

export function FindingList({ findings, named }: { findings: readonly Finding[]; named: boolean }) {
  const dispatch = useAppDispatch()
  const sources = useAppSelector(selectSources)
  return (
    <Stack spacing={1.25} role="list" aria-label="Findings">
      {findings.map((finding) => {
        const { id, source, what, where, why, fix } = finding
        return (
          <Stack key={id} direction="row" spacing={1} role="listitem">
            <Typography component="span" color="primary" sx={{ width: 12 }}>
              {verdictMark([finding])}
            </Typography>
            <Box sx={{ flex: 1 }}>
              <Typography variant="body2">
                {named && <b>{sources.find((one) => one.id === source)?.name ?? source}: </b>}
                {what}
              </Typography>
              <Typography variant="caption" color="textSecondary" component="div">
                {where}. {why}
              </Typography>
              {fix && (
                <Button
                  variant="outlined"
                  sx={{ mt: 0.5, py: 0 }}
                  onClick={() => dispatch(shotActions.edited(fix.edit))}
                >
                  {fix.label}
                </Button>
              )}
            </Box>
          </Stack>
        )
      })}
    </Stack>
  )
}
