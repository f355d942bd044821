/** The card of a source: its claims in three voices, each with what you say in place, and what the check found. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { type Change, mediaKind, type Source, usersOf } from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectFindings, selectReports, selectShownShot } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { Problems } from '../card/problems'
import { Cameras } from './cameras'
import { ForComparing } from './for-comparing'
import { FindingList } from './finding-list'
import { MadeHere } from './making/made-here'
import { Passes } from './passes'
import { Versions } from './versions'
import { SourceClaims } from './source-claims'

export function SourceCard({ source }: { source: Source }) {
  const dispatch = useAppDispatch()
  const shot = useAppSelector(selectShownShot)
  const report = useAppSelector((state) => selectReports(state)?.find((one) => one.source === source.id)) ?? null
  const findings = useAppSelector(selectFindings)?.filter((finding) => finding.source === source.id) ?? []
  if (!shot) return null
  const users = usersOf(shot, { kind: 'source', id: source.id })
  const edit = (one: Change) => dispatch(shotActions.edited(one))
  const kind = mediaKind(source.path)
  return (
    <Stack spacing={1.25} sx={{ p: 1.5, overflowX: 'hidden', overflowY: 'auto', flex: 1 }}>
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
      {source.made ? <MadeHere source={source} recipe={source.made} /> : <Versions key={source.id} source={source} />}
      <Problems kind="source" ids={[source.id]} />
      <FindingList findings={findings} named={false} />
      {kind === 'camera' ? (
        <Cameras key={source.id} report={report} />
      ) : (
        <SourceClaims source={source} shot={shot} report={report} isPicture={kind !== 'table'} />
      )}
      <Passes source={source} report={report} />
      {kind === 'picture' && <ForComparing source={source} />}
      <Box>
        <Button sx={{ ml: -0.6 }} onClick={() => edit({ kind: 'remove-source', source: source.id })}>
          Remove this source
        </Button>
        {users.length > 0 && (
          <Typography variant="caption" color="textSecondary" component="div">
            Used by {users.join(', ')}: they show nothing of it then, until another source is chosen for them.
          </Typography>
        )}
      </Box>
    </Stack>
  )
}
