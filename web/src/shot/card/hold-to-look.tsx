/** A button by which something else is seen as long as it is held, by pointer or by Space; nothing is changed. */

import Button from '@mui/material/Button'
import Tooltip from '@mui/material/Tooltip'
import type { KeyboardEvent } from 'react'

interface HoldToLookProps {
  readonly text: string
  /** where the text alone does not say of what */
  readonly label?: string
  readonly title: string
  readonly onLook: () => void
  readonly onLetGo: () => void
}

export function HoldToLook({ text, label, title, onLook, onLetGo }: HoldToLookProps) {
  const onKey = (event: KeyboardEvent, act: () => void) => {
    if (event.key !== ' ' || event.repeat) return
    event.stopPropagation()
    act()
  }
  return (
    <Tooltip title={title}>
      <Button
        sx={{ minWidth: 0, px: 0.6 }}
        aria-label={label}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId)
          onLook()
        }}
        onPointerUp={onLetGo}
        onPointerCancel={onLetGo}
        onKeyDown={(event) => onKey(event, onLook)}
        onKeyUp={(event) => onKey(event, onLetGo)}
      >
        {text}
      </Button>
    </Tooltip>
  )
}
