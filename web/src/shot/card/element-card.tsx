/** The card of an element: how it is blended, what it is made of, its treatments. */

import Stack from '@mui/material/Stack'
import { useMemo } from 'react'
import { blends } from '../../../../core/set/blends'
import { elementDescription } from '../../../../core/set/owners'
import { find, rootInput, usesOf, type Element, type Use } from '../../../../core/shot'
import { useAppSelector } from '../../store'
import { selectDocument, selectShownShot } from '../../store/selectors'
import { AddTreatment } from './add-treatment'
import { ChannelNames } from './channel-names'
import { Heading } from './heading'
import { Inputs } from './inputs'
import { ParameterRow } from './parameter-row'
import { KeepComputed } from './keep-computed'
import { PassChoice } from './pass-choice'
import { PlacingSection } from './placing'
import { PlateShadow } from './plate-shadow'
import { Problems } from './problems'
import { OwnGlass } from './own-glass'
import { Remembered } from './remembered'
import { Reveals } from './reveals'
import { Several } from './several'
import { Treatment } from './treatment'
import { useStill } from './use-still'

const noUses: readonly Use[] = []
/** With more treatments than this, only the first is open. */
const mostOpen = 2

/** @param pinned it is kept below another card */
export function ElementCard({ element, pinned = false }: { element: Element; pinned?: boolean }) {
  const isPlate = useAppSelector((state) => selectDocument(state)?.plate === element.id)
  const uses = useAppSelector((state) => {
    const shot = selectShownShot(state)
    return shot ? usesOf(shot, { kind: 'element', id: element.id }) : noUses
  })
  const settings = useAppSelector((state) => selectShownShot(state)?.treatments)
  const blend = blends[element.blend.kind]
  const root = rootInput(element)
  const still = useStill(element)
  const owner = useMemo(() => ({ kind: 'element', id: element.id }) as const, [element.id])
  return (
    <Stack spacing={1} sx={{ p: 1.5, overflow: 'auto', flex: 1, minHeight: 0 }}>
      {!pinned && <Several />}
      <Heading
        key={`heading ${element.id}`}
        id={element.id}
        name={element.name}
        visible={element.visible}
        isPlate={isPlate}
        blend={element.blend.kind}
        pinned={pinned}
      />
      <Problems kind="element" ids={[element.id]} />
      {root?.kind === 'pass' && <PassChoice element={still} input={root} />}
      {!isPlate &&
        elementDescription.parameters.map((parameter) => (
          <ParameterRow
            key={parameter.name}
            parameter={parameter}
            owner={owner}
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
      {!isPlate && element.blend.kind === 'shadow' && <PlateShadow element={element} />}
      {!isPlate && element.blend.kind === 'reveal' && <Reveals element={element} />}
      {!isPlate && <OwnGlass id={element.id} own={element.ownGlass === true} />}
      {!isPlate && <PlacingSection element={element} />}
      <Inputs element={still} />
      {uses.map((use, i) => {
        const own = settings && find(settings, use.treatment)
        return own ? (
          <Treatment key={use.id} use={use} settings={own} open={i === 0 || uses.length <= mostOpen} />
        ) : (
          <Problems key={use.id} kind="treatment" ids={[use.id]} />
        )
      })}
      <AddTreatment owner={owner} />
      {!isPlate && <KeepComputed id={element.id} />}
      <Remembered key={`remembered ${element.id}`} element={still} />
    </Stack>
  )
}
