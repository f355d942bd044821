/** Problems of a thing, where their remedies are. */

import Alert from '@mui/material/Alert'
import { shallowEqual } from 'react-redux'
import type { Problem } from '../../../../core/plan/problem'
import { useAppSelector } from '../../store'
import { selectProblems } from '../../store/selectors'

export function Problems({ kind, ids }: { kind: 'source' | 'element' | 'treatment'; ids: readonly string[] }) {
  const own = useAppSelector(
    (state) => selectProblems(state).filter(({ at }) => at.kind === kind && 'id' in at && ids.includes(at.id)),
    shallowEqual,
  )
  return <ProblemList problems={own} />
}

export function ProblemList({ problems }: { problems: readonly Problem[] }) {
  return problems.map(({ sentence, remedy }) => (
    <Alert key={sentence} severity="warning" variant="outlined" icon={false} sx={{ py: 0, px: 1 }}>
      {sentence} {remedy}
    </Alert>
  ))
}
