/** The card of a source: its claims in three voices, each with what you say in place, and what the check found. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { mediaKind } from '../../../../core/check'
import type { Edit, Source } from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectFindings, selectShownShot } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { Cameras } from './cameras'
import { FindingList } from './finding-list'
import { Passes } from './passes'
import { SourceClaims } from './source-claims'

export function SourceCard({ source }: { source: Source }) {
  const dispatch = useAppDispatch()
  const shot = useAppSelector(selectShownShot)
  const report = useAppSelector((state) => state.shot.reports?.find((one) => one.source === source.id)) ?? null
  const findings = useAppSelector(selectFindings)?.filter((finding) => finding.source === source.id) ?? []
  if (!shot) return null
  const edit = (one: Edit) => dispatch(shotActions.edited(one))
  const kind = mediaKind(source.path)
  return (
    <Stack spacing={1.25} sx={{ p: 1.5, overflowX: 'hidden', overflowY: 'auto', flex: 1 }} data-testid="source-card">
      <Box>
        <Stack direction="row" sx={{ justifyContent: 'space-between', alignItems: 'center' }}>
          <Typography variant="h2">{source.name}</Typography>
          <Button sx={{ mr: -0.6 }} onClick={() => dispatch(shotActions.sourceSelected(null))}>
            Close
          </Button>
        </Stack>
        <Typography variant="caption" color="textSecondary" sx={{ overflowWrap: 'anywhere' }}>
          {source.path}
          {report?.header &&
            `, ${report.header.format.toUpperCase()}${report.header.bits ? ` ${report.header.bits} bit` : ''}`}
        </Typography>
      </Box>
      <FindingList findings={findings} named={false} />
      {kind === 'camera' ? (
        <Cameras report={report} />
      ) : (
        <SourceClaims source={source} shot={shot} report={report} isPicture={kind !== 'table'} />
      )}
      <Passes source={source} report={report} />
      <Box>
        <Button
          onClick={() => edit({ kind: 'remove-source', source: source.id })}
          disabled={shot.elements.some(
            (e) =>
              e.source === source.id ||
              e.treatments.some(({ sources = {} }) => Object.values(sources).includes(source.id)),
          )}
        >
          Remove this source
        </Button>
      </Box>
    </Stack>
  )
}
