/** The card of an element: how it is blended, what it is made of, its treatments. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { memo } from 'react'
import { blends } from '../../../../core/set/blends'
import { elementDescription } from '../../../../core/set/owners'
import { find, usesOf, type Element, type Use } from '../../../../core/shot'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument, selectShownShot } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { AddTreatment } from './add-treatment'
import { ChannelNames } from './channel-names'
import { Inputs } from './inputs'
import { ParameterRow } from './parameter-row'
import { Problems } from './problems'
import { Treatment } from './treatment'

interface HeadingProps {
  readonly id: string
  readonly name: string
  readonly visible: boolean
  readonly isPlate: boolean
  readonly says: string
}

/** Of the element only what stands here: the rest changes while a number is dragged. */
const Heading = memo(function Heading({ id, name, visible, isPlate, says }: HeadingProps) {
  const dispatch = useAppDispatch()
  return (
    <Box>
      <Stack direction="row" sx={{ alignItems: 'center', justifyContent: 'space-between' }}>
        <Typography variant="h2">{name}</Typography>
        {!isPlate && (
          <Button
            sx={{ mr: -0.6 }}
            aria-label={`${visible ? 'Hide' : 'Show'} ${name}`}
            onClick={() => dispatch(shotActions.edited({ kind: 'show-element', element: id, visible: !visible }))}
          >
            {visible ? 'Hide' : 'Show'}
          </Button>
        )}
      </Stack>
      <Typography variant="caption" color="textSecondary" component="div">
        {says}
      </Typography>
    </Box>
  )
})

const noUses: readonly Use[] = []

export function ElementCard({ element }: { element: Element }) {
  const isPlate = useAppSelector((state) => selectDocument(state)?.plate === element.id)
  const uses = useAppSelector((state) => {
    const shot = selectShownShot(state)
    return shot ? usesOf(shot, { kind: 'element', id: element.id }) : noUses
  })
  const settings = useAppSelector((state) => selectShownShot(state)?.treatments)
  const blend = blends[element.blend.kind]
  const says = isPlate ? 'The plate: everything else is blended over it.' : `${blend.label}. ${blend.help}`
  return (
    <Stack spacing={1.25} sx={{ p: 1.5, overflow: 'auto', flex: 1 }}>
      <Heading id={element.id} name={element.name} visible={element.visible} isPlate={isPlate} says={says} />
      <Problems kind="element" ids={[element.id]} />
      {!isPlate &&
        elementDescription.parameters.map((parameter) => (
          <ParameterRow
            key={parameter.name}
            parameter={parameter}
            owner={{ kind: 'element', id: element.id }}
            curves={element.parameters[parameter.name]}
          />
        ))}
      {!isPlate && blend.parameters.some((parameter) => parameter.channels === 3) && <ChannelNames />}
      {!isPlate &&
        blend.parameters.map((parameter) => (
          <ParameterRow
            key={parameter.name}
            parameter={parameter}
            owner={{ kind: 'blend', element: element.id }}
            curves={element.blend.parameters[parameter.name]}
          />
        ))}
      <Inputs element={element} />
      {uses.map((use) => {
        const own = settings && find(settings, use.treatment)
        return own ? (
          <Treatment key={use.id} use={use} settings={own} />
        ) : (
          <Problems key={use.id} kind="treatment" ids={[use.id]} />
        )
      })}
      <AddTreatment owner={{ kind: 'element', id: element.id }} />
    </Stack>
  )
}
