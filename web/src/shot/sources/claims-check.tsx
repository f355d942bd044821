/** All sources side by side, claim by claim, and what does not fit. */

import Dialog from '@mui/material/Dialog'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import Link from '@mui/material/Link'
import Table from '@mui/material/Table'
import TableBody from '@mui/material/TableBody'
import TableCell from '@mui/material/TableCell'
import TableHead from '@mui/material/TableHead'
import TableRow from '@mui/material/TableRow'
import Typography from '@mui/material/Typography'
import { voicesOf, type Voices } from '../../../../core/check'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument, selectFindings, selectReports, selectSources } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { FindingList } from './finding-list'

const columns: readonly Voices['claim'][] = ['encoding', 'primaries', 'alpha', 'rate', 'range', 'size', 'pixel aspect']

/** What counts, and under it who says otherwise. */
function VoiceCell({ voices }: { voices: Voices | undefined }) {
  if (!voices) return <TableCell>–</TableCell>
  const { you, file, pixels, agree } = voices
  return (
    <TableCell sx={{ verticalAlign: 'top', bgcolor: agree ? undefined : 'action.selected' }}>
      <Typography variant="body2">
        {you}
        {agree ? '' : ' ■'}
      </Typography>
      {!agree && (
        <Typography variant="caption" color="textSecondary" component="div">
          {[file !== null && `file: ${file}`, pixels !== null && `pixels: ${pixels}`].filter(Boolean).join('; ')}
        </Typography>
      )}
    </TableCell>
  )
}

export function ClaimsCheck({ onClose }: { onClose: () => void }) {
  const dispatch = useAppDispatch()
  const shot = useAppSelector(selectDocument)
  const reports = useAppSelector(selectReports)
  const findings = useAppSelector(selectFindings)
  const sources = useAppSelector(selectSources)
  if (!shot) return null
  return (
    <Dialog open onClose={onClose} maxWidth="lg" fullWidth>
      <DialogTitle variant="h2">Claims check: are the sources of {shot.name} what they claim to be?</DialogTitle>
      <DialogContent>
        <Table size="small">
          <TableHead>
            <TableRow>
              <TableCell>Source</TableCell>
              {columns.map((claim) => (
                <TableCell key={claim}>{claim}</TableCell>
              ))}
            </TableRow>
          </TableHead>
          <TableBody>
            {sources.map((source) => {
              const report = reports?.find((one) => one.source === source.id) ?? null
              const voices = voicesOf(shot, source, report)
              return (
                <TableRow key={source.id} hover>
                  <TableCell sx={{ verticalAlign: 'top' }}>
                    <Link
                      component="button"
                      color="textPrimary"
                      onClick={() => {
                        dispatch(shotActions.sourceSelected(source.id))
                        onClose()
                      }}
                      sx={{ textAlign: 'left' }}
                    >
                      {source.name}
                    </Link>
                  </TableCell>
                  {columns.map((claim) => (
                    <VoiceCell key={claim} voices={voices.find((one) => one.claim === claim)} />
                  ))}
                </TableRow>
              )
            })}
          </TableBody>
        </Table>
        <Typography variant="h2" sx={{ mt: 2, mb: 1 }}>
          {findings === null
            ? 'The files are being measured …'
            : findings.length === 0
              ? 'Nothing was found that does not fit.'
              : 'What does not fit'}
        </Typography>
        {findings && <FindingList findings={findings} named />}
      </DialogContent>
    </Dialog>
  )
}
