/**
 * The evidence under the picture: values of plate, element and composite, under the pointer and at the samples that are kept,
 * each beside its enlarged pixels.
 */

import Box from '@mui/material/Box'
import Link from '@mui/material/Link'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import type { Weights } from '../../../../core/kernels/counting'
import { stopsBetween, type RegionValues } from '../../../../core/measure/scopes'
import { useAppDispatch, useAppSelector } from '../../store'
import {
  selectDocument,
  selectElement,
  selectElementName,
  selectSamples,
  type PlacedSample,
  selectScale,
  selectTrack,
  selectWitnesses,
} from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import { viewChanged, type Region, type Units } from '../../store/view'
import { RenameField } from '../column/rename-field'
import { Patch } from './patch'
import { SampleMenu } from './sample-menu'
import { Filmstrip } from '../tracks/filmstrip'
import { WitnessEvidence } from '../witnesses/witness-evidence'
import { useRegionValues, type LayerValues } from './use-region-values'

/** Three readings with their patches share the narrowest screen. */
const readingWidth = 190
const layers: readonly (keyof LayerValues)[] = ['plate', 'element', 'composite']

/** Light and code values have four decimals; the screen's are whole numbers, but for means and spreads of regions. */
const printers: Record<Units, (value: number) => string> = {
  light: (value) => value.toFixed(4),
  code: (value) => value.toFixed(4),
  view: (value) => (Number.isInteger(value) ? String(value) : value.toFixed(1)),
}

function Numbers({
  label,
  values,
  print,
  dim,
}: {
  label: string
  values: Weights | null
  print: (v: number) => string
  dim?: boolean
}) {
  return (
    <Stack
      direction="row"
      role="group"
      aria-label={label.trim()}
      sx={{ fontSize: 11, color: dim ? 'text.secondary' : undefined }}
    >
      <Box
        sx={{ flex: 1, color: 'text.secondary', overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
      >
        {label}
      </Box>
      {[0, 1, 2].map((c) => (
        <Box key={c} component="span" sx={{ width: 45, textAlign: 'right' }}>
          {values ? print(values[c]) : '–'}
        </Box>
      ))}
    </Stack>
  )
}

/** What more there is to say of a region than its mean. */
function Spread({ values, print }: { values: RegionValues; print: (v: number) => string }) {
  return (
    <>
      <Numbers label="  least" values={values.least} print={print} dim />
      <Numbers label="  most" values={values.most} print={print} dim />
      <Numbers label="  spread" values={values.spread} print={print} dim />
    </>
  )
}

function Reading({
  sample,
  region,
  values,
  print,
  beside,
}: {
  /** null: under the pointer */
  sample: PlacedSample | null
  region: Region
  values: LayerValues | null
  print: (value: number) => string
  beside: boolean
}) {
  const dispatch = useAppDispatch()
  const [renaming, setRenaming] = useState(false)
  const element = useAppSelector(selectElement)
  const isPlate = useAppSelector((state) => selectDocument(state)?.plate === element?.id)
  const elementName = isPlate ? 'treated plate' : (element?.name ?? '')
  const label = { plate: 'plate', element: elementName, composite: 'composite' }
  const isRegion = region.width > 1 || region.height > 1
  const title = sample === null ? 'Under the pointer' : `${isRegion ? 'Region' : 'Sample'} ${sample.name}`
  const where = isRegion ? `${region.width} × ${region.height} at ${region.x} ${region.y}` : `${region.x} ${region.y}`
  const rename = (name: string | null) => {
    setRenaming(false)
    if (sample && name !== null && name !== sample.name)
      dispatch(shotActions.edited({ kind: 'set-sample', sample: sample.id, changes: { name } }))
  }
  return (
    <Box
      role="group"
      aria-label={title}
      sx={{ display: 'flex', flexDirection: beside ? 'column' : 'row', gap: 1, flexShrink: 0 }}
    >
      <Patch region={region} sample={sample?.id} />
      <Box sx={{ width: readingWidth }}>
        <Stack direction="row" sx={{ justifyContent: 'space-between', alignItems: 'center', height: 18 }}>
          {renaming && sample ? (
            <RenameField name={sample.name} onName={rename} />
          ) : (
            <Typography
              variant="caption"
              color="textSecondary"
              noWrap
              title={sample?.follows ? `Follows ${sample.follows.track === undefined ? 'an element' : 'a track'}` : ''}
            >
              {title}, {where}
              {sample?.follows ? ', follows' : ''}
            </Typography>
          )}
          {sample && <SampleMenu sample={sample} onRename={() => setRenaming(true)} />}
        </Stack>
        {layers.map((layer) => {
          if (layer === 'element' && !element) return null
          const found = values?.[layer] ?? null
          return (
            <Box key={layer}>
              <Numbers label={label[layer]} values={found?.mean ?? null} print={print} />
              {isRegion && found && layer === 'composite' && <Spread values={found} print={print} />}
            </Box>
          )
        })}
      </Box>
    </Box>
  )
}

/** How far apart two samples are, plate beside element: what a gain would have to make up for. */
function Between({ first, second, names }: { first: LayerValues; second: LayerValues; names: string }) {
  const element = useAppSelector(selectElementName) ?? 'element'
  return (
    <Box role="group" aria-label={`Stops from ${names}`} sx={{ width: readingWidth, flexShrink: 0 }}>
      <Typography variant="caption" color="textSecondary">
        Stops from {names}
      </Typography>
      {layers.map((layer) => {
        const [a, b] = [first[layer]?.mean, second[layer]?.mean]
        const stops = a && b ? stopsBetween(a, b) : null
        const print = (v: number) => (Number.isNaN(v) ? '–' : `${v > 0 ? '+' : ''}${v.toFixed(2)}`)
        return <Numbers key={layer} label={layer === 'element' ? element : layer} values={stops} print={print} />
      })}
    </Box>
  )
}

const unitsText: Record<Units, string> = {
  light: 'Scene-linear',
  code: 'The plate’s code values,',
  view: 'On the screen, 0 to 255,',
}
const nextUnits: Record<Units, Units> = { light: 'code', code: 'view', view: 'light' }

/** @param beside it stands beside the picture, and not under it */
export function Evidence({ beside = false }: { beside?: boolean }) {
  const dispatch = useAppDispatch()
  const pointer = useAppSelector((state) => state.view.framing.pointer)
  const scale = useAppSelector(selectScale)
  const samples = useAppSelector(selectSamples)
  const witnesses = useAppSelector(selectWitnesses)
  const selected = useAppSelector(selectTrack)
  // At the corners of a camera's shake nothing need be seen that could be followed.
  const track = selected?.region?.by ? null : selected
  const units = useAppSelector((state) => state.view.looking.units)
  const print = printers[units]
  const regions = [...(pointer ? [{ ...pointer, width: 1, height: 1 }] : []), ...samples]
  const values = useRegionValues(regions, units)
  const ofKept = (i: number) => values[(pointer ? 1 : 0) + i]
  const [first, second] = useRegionValues(samples.length >= 2 ? samples.slice(0, 2) : [], 'light')
  return (
    <Box
      role="region"
      aria-label="Evidence"
      sx={{
        flex: 1,
        minHeight: 0,
        minWidth: 0,
        height: beside ? '100%' : undefined,
        display: 'flex',
        flexDirection: 'column',
        [beside ? 'borderLeft' : 'borderTop']: 1,
        borderColor: 'divider',
      }}
    >
      <Typography variant="caption" color="textSecondary" noWrap sx={{ px: 1.5, pt: 0.25, flexShrink: 0 }}>
        {track ? (
          `${track.name} on every frame, its point in the middle. The arrow keys on a frame set it by hand.`
        ) : (
          <>
            <Link
              component="button"
              color="textPrimary"
              aria-label="Units"
              onClick={() => dispatch(viewChanged({ looking: { units: nextUnits[units] } }))}
              sx={{ textDecorationStyle: 'dotted', textUnderlineOffset: 3, fontSize: 'inherit' }}
            >
              {unitsText[units]}
            </Link>{' '}
            red, green, blue{scale === 1 ? '' : `, averaged over ${scale} × ${scale} pixels`}
            {samples.length + witnesses.length === 0 &&
              '. Ctrl click on the picture keeps a place, Shift drag keeps a region.'}
          </>
        )}
      </Typography>
      <Box
        sx={{
          flex: 1,
          minHeight: 0,
          display: 'flex',
          flexDirection: beside ? 'column' : 'row',
          gap: 2,
          px: beside ? 1 : 1.5,
          pb: 0.5,
          overflow: 'auto',
        }}
      >
        {track && <Filmstrip track={track} beside={beside} />}
        {!track && pointer && (
          <Reading sample={null} region={regions[0]} values={values[0]} print={print} beside={beside} />
        )}
        {!track &&
          samples.map((sample, i) => (
            <Reading key={sample.id} sample={sample} region={sample} values={ofKept(i)} print={print} beside={beside} />
          ))}
        {!track && witnesses.map((witness) => <WitnessEvidence key={witness.id} witness={witness} />)}
        {!track && samples.length >= 2 && first && second && (
          <Between first={first} second={second} names={`${samples[0].name} to ${samples[1].name}`} />
        )}
      </Box>
    </Box>
  )
}
