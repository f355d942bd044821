/** The cards of glass, sensor and finish: treatments that belong to no element alone. */

import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { shutterDescription } from '../../../../core/set/owners'
import { find, usesOf, type ShotWide, type Use } from '../../../../core/shot'
import { useAppSelector } from '../../store'
import { selectShownShot } from '../../store/selectors'
import { shotWideWords } from '../shot-wide-words'
import { AddTreatment } from './add-treatment'
import { ParameterRow } from './parameter-row'
import { Problems } from './problems'
import { Section } from './section'
import { Treatment } from './treatment'

const noUses: readonly Use[] = []

export function ShotWideCard({ kind }: { kind: ShotWide }) {
  const uses = useAppSelector((state) => {
    const shot = selectShownShot(state)
    return shot ? usesOf(shot, { kind }) : noUses
  })
  const settings = useAppSelector((state) => selectShownShot(state)?.treatments)
  const { name, help } = shotWideWords[kind]
  return (
    <Stack spacing={1} sx={{ p: 1.5, overflow: 'auto', flex: 1 }}>
      <Typography variant="h2">{name}</Typography>
      <Typography variant="caption" color="textSecondary">
        {help}
      </Typography>
      {uses.map((use) => {
        const own = settings && find(settings, use.treatment)
        return own ? (
          <Treatment key={use.id} use={use} settings={own} open />
        ) : (
          <Problems key={use.id} kind="treatment" ids={[use.id]} />
        )
      })}
      <AddTreatment owner={{ kind }} />
      {kind === 'glass' && <Shutter />}
    </Stack>
  )
}

/** By which everything that moves by keyframes is blurred, unless it has a shutter of its own. */
function Shutter() {
  const parameters = useAppSelector((state) => selectShownShot(state)?.shutter.parameters)
  return (
    parameters && (
      <Section name="Shutter of the shot" summary="for what moves by keyframes" open>
        {shutterDescription.parameters.map((parameter) => (
          <ParameterRow
            key={parameter.name}
            parameter={parameter}
            owner={{ kind: 'shutter' }}
            curves={parameters[parameter.name]}
          />
        ))}
        <Typography variant="caption" color="textSecondary">
          {shutterDescription.help}
        </Typography>
      </Section>
    )
  )
}
