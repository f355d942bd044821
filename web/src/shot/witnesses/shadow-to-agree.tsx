/** The ratio by which a shadow would leave what the plate's own leaves. */

import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { ninetyPercent, ratioToAgree, type Rgb } from '../../../../core/match'
import { valueAt } from '../../../../core/motion/curve'
import { find, type Witness } from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument, selectFrame, selectReadingsNow } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { ProposalRow } from './proposal-row'

const many = ninetyPercent(20)

export function ShadowToAgree({ witness: { id, element } }: { witness: Witness }) {
  const dispatch = useAppDispatch()
  const frame = useAppSelector(selectFrame)
  const read = useAppSelector((state) => selectReadingsNow(state).get(id))
  const shot = useAppSelector(selectDocument)
  const found = shot && find(shot.elements, element)
  const [own, made] = [read?.reference?.shadow, read?.adjusted?.shadow]
  if (!own || !made || !found) return null
  if (found.blend.kind !== 'shadow')
    return (
      <Typography variant="caption" color="textSecondary">
        A ratio is proposed where {found.name} is blended as a shadow.
      </Typography>
    )
  const present = found.blend.parameters.ratio.map((curve) => valueAt(curve, frame)) as unknown as Rgb
  const to = ratioToAgree(own, made, present)
  if (!to)
    return (
      <Typography variant="caption" color="textSecondary">
        No ratio can be proposed: next to nothing of {found.name} falls there. Move the element’s side into it, or set a
        ratio below 1 first.
      </Typography>
    )
  const use = () =>
    dispatch(
      shotActions.edited({
        kind: 'set-channels',
        at: { owner: { kind: 'blend', element }, parameter: 'ratio' },
        frame,
        values: to.ratio.map((value) => Number(value.toFixed(6))),
      }),
    )
  const values = to.ratio.map((value, c) => ({ value, bar: many * to.error[c] }))
  return (
    <Stack
      role="group"
      aria-label={`Proposal for ${found.name}`}
      spacing={0.5}
      sx={{ borderTop: 1, borderColor: 'divider', pt: 1 }}
    >
      <Typography variant="body2">Proposed for {found.name}</Typography>
      <ProposalRow label="Ratio" values={values} />
      <Typography variant="caption" color="textSecondary">
        ± holds the truth nine times in ten. It rests on this witness, and on the plate’s veil as it is set.
      </Typography>
      <Button sx={{ alignSelf: 'flex-start', ml: -0.6 }} onClick={use}>
        Use the ratio
      </Button>
    </Stack>
  )
}
