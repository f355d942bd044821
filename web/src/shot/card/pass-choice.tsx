/** Which pass of which source an element is made of, changed in its place. */

import CircularProgress from '@mui/material/CircularProgress'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import { memo, useEffect, useState } from 'react'
import { type Input, mediaKind, type PassInput } from '../../../../core/shot'
import { listParts, type SourceParts } from '../../api/client'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectSources } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { StillElement } from './use-still'

const valueOf = (source: string, part: string | null) => JSON.stringify([source, part])
const words = (part: string) => part.replace(/_/g, ' ')

export const PassChoice = memo(function PassChoice({ element, input }: { element: StillElement; input: PassInput }) {
  const dispatch = useAppDispatch()
  const id = useAppSelector((state) => state.shot.id) ?? ''
  const sources = useAppSelector(selectSources).filter(
    ({ path, forComparing }) => mediaKind(path) === 'picture' && !forComparing,
  )
  const [asked, setAsked] = useState(false)
  const [parts, setParts] = useState<readonly SourceParts[] | null>(null)
  const paths = sources.map(({ path }) => path).join(' ')
  useEffect(() => {
    if (!asked) return
    let left = false
    listParts(id).then(
      (found) => left || setParts(found),
      // What cannot be read is said on the card of its source; the sources themselves can be chosen all the same.
      () => left || setParts([]),
    )
    return () => {
      left = true
    }
  }, [asked, id, paths])
  const present = valueOf(input.source, input.part)
  const known = sources.flatMap(({ id: source, name }) => {
    const named = parts?.find((one) => one.source === source)?.parts ?? []
    return named.length > 0
      ? named.map((part) => ({ value: valueOf(source, part), text: part === null ? name : `${name}, ${words(part)}` }))
      : [{ value: valueOf(source, null), text: name }]
  })
  const presentName = sources.find((one) => one.id === input.source)?.name ?? 'a source that is gone'
  const own = { value: present, text: input.part === null ? presentName : `${presentName}, ${words(input.part)}` }
  const choices = known.some(({ value }) => value === present) ? known : [own, ...known]
  const choose = (value: string) => {
    const [source, part] = JSON.parse(value) as [string, string | null]
    // Channels that were named are those of the pass before.
    const { channels: _before, ...rest } = input
    const next: Input = { ...rest, source, part }
    const inputs = { byId: { ...element.inputs.byId, [input.id]: next } }
    dispatch(shotActions.edited({ kind: 'set-inputs', element: element.id, inputs }))
  }
  return (
    <TextField
      select
      size="small"
      variant="standard"
      value={present}
      slotProps={{ select: { 'aria-label': 'Pass', onOpen: () => setAsked(true) } }}
      onChange={({ target }) => target.value !== present && choose(target.value)}
    >
      {choices.map(({ value, text }) => (
        <MenuItem key={value} value={value} dense>
          {text}
        </MenuItem>
      ))}
      {asked && parts === null && (
        <MenuItem disabled dense>
          <CircularProgress size={12} sx={{ mr: 1 }} /> reading the files …
        </MenuItem>
      )}
    </TextField>
  )
})
