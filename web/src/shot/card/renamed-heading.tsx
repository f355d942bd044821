/** The head of a card: what it is of, which can be renamed in place. */

import Button from '@mui/material/Button'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { RenameField } from '../column/rename-field'

interface RenamedHeadingProps {
  /** as it is written above the card */
  readonly title: string
  readonly name: string
  readonly onName: (name: string) => void
}

export function RenamedHeading({ title, name, onName }: RenamedHeadingProps) {
  const [renaming, setRenaming] = useState(false)
  return (
    <Stack direction="row" sx={{ justifyContent: 'space-between', alignItems: 'center' }}>
      {renaming ? (
        <RenameField
          name={name}
          onName={(changed) => {
            setRenaming(false)
            if (changed !== null && changed !== name) onName(changed)
          }}
        />
      ) : (
        <Typography variant="h2" noWrap>
          {title}
        </Typography>
      )}
      <Button onClick={() => setRenaming(true)}>Rename</Button>
    </Stack>
  )
}
