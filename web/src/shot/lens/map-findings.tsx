/** What the claims check found of a lens map, where it is used. */

import Typography from '@mui/material/Typography'
import { shallowEqual } from 'react-redux'
import { useAppSelector } from '../../store'
import { selectFindings } from '../../store/selectors'
import { FindingList } from '../sources/finding-list'
import { useReports } from '../sources/use-reports'

export function MapFindings({ source }: { readonly source: string }) {
  const { problem } = useReports(true)
  const found = useAppSelector(
    (state) => selectFindings(state)?.filter((finding) => finding.source === source) ?? [],
    shallowEqual,
  )
  if (problem !== null) return <Typography variant="caption">{`The map could not be checked: ${problem}`}</Typography>
  return found.length === 0 ? null : <FindingList findings={found} named={false} />
}
