/** What somebody wants to be remembered of an element: a note, words to find it by, a label. */

import TextField from '@mui/material/TextField'
import { memo, useState } from 'react'
import type { DescribeElement, Element } from '../../../../core/shot'
import { ColourChoice } from '../../people/colour-choice'
import { useAppDispatch } from '../../store'
import { shotActions } from '../../store/shot-slice'
import { Section } from './section'
import type { StillElement } from './use-still'

function summaryOf({ note, tags = [], label }: Element): string {
  return [...tags, label, note === undefined ? undefined : 'a note'].filter(Boolean).join(', ') || 'nothing'
}

/** Typed text is kept when the field is left, so that one change is one step of undo. */
function Kept({
  label,
  value,
  rows,
  onKeep,
}: {
  label: string
  value: string
  rows?: number
  onKeep: (text: string) => void
}) {
  const [text, setText] = useState(value)
  return (
    <TextField
      size="small"
      variant="standard"
      label={label}
      multiline={rows !== undefined}
      maxRows={rows}
      value={text}
      onChange={({ target }) => setText(target.value)}
      onKeyDown={(event) => event.stopPropagation()}
      onBlur={() => text !== value && onKeep(text.trim())}
    />
  )
}

export const Remembered = memo(function Remembered({ element }: { element: StillElement }) {
  const dispatch = useAppDispatch()
  const { id, note = '', tags = [], label } = element
  const change = (changes: DescribeElement['changes']) =>
    dispatch(shotActions.edited({ kind: 'describe-element', element: id, changes }))
  const words = tags.join(', ')
  return (
    <Section name="Note and tags" summary={summaryOf(element)}>
      <Kept key={`note ${note}`} label="Note" value={note} rows={6} onKeep={(text) => change({ note: text || null })} />
      <Kept
        key={`tags ${words}`}
        label="Tags, with commas"
        value={words}
        onKeep={(text) =>
          change({
            tags: [...new Set(text.split(',').map((tag) => tag.trim()))].filter((tag) => tag !== ''),
          })
        }
      />
      <ColourChoice name="Label" value={label ?? null} onChoose={(colour) => change({ label: colour })} />
    </Section>
  )
})
