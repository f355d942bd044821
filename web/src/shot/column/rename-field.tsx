/** A name that is changed in its place: Enter keeps the new one, Escape the old. */

import InputBase from '@mui/material/InputBase'
import { useState } from 'react'

interface RenameFieldProps {
  readonly name: string
  /** null: nothing is changed */
  readonly onName: (name: string | null) => void
}

export function RenameField({ name, onName }: RenameFieldProps) {
  const [text, setText] = useState(name)
  const keep = () => onName(text.trim() === '' ? null : text.trim())
  return (
    <InputBase
      autoFocus
      value={text}
      inputProps={{ 'aria-label': `Name of ${name}`, maxLength: 200, style: { padding: 0 } }}
      onFocus={({ target }) => (target as HTMLInputElement).select()}
      onChange={({ target }) => setText(target.value)}
      onBlur={keep}
      onKeyDown={(event) => {
        event.stopPropagation()
        if (event.key === 'Enter') keep()
        if (event.key === 'Escape') onName(null)
      }}
      sx={{ flex: 1, height: 22, fontSize: 12, pl: 0.5, bgcolor: 'background.default' }}
    />
  )
}
