/** The words of the view sentence: one that opens a menu of its alternatives, one that is pressed, and those between. */

import Link from '@mui/material/Link'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import Typography from '@mui/material/Typography'
import { useState, type ReactNode } from 'react'

export interface Choice<T> {
  readonly value: T
  readonly text: string
}

/** A word of the sentence that opens a menu of its alternatives. */
export function Word<T>({
  name,
  choices,
  value,
  onChoose,
  mayShrink,
  children,
}: {
  name: string
  choices: readonly Choice<T>[]
  value: T
  onChoose: (value: T) => void
  /** it holds a name, which may be cut when the line is full */
  mayShrink?: boolean
  children?: ReactNode
}) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  return (
    <>
      <Pressed name={name} onPress={setAnchor} mayShrink={mayShrink}>
        {children ?? choices.find((c) => c.value === value)?.text}
      </Pressed>
      {/* Focus does not come back to the word: the next space is meant for playing. */}
      {anchor && (
        <Menu anchorEl={anchor} open onClose={() => setAnchor(null)} disableRestoreFocus>
          {choices.map((choice) => (
            <MenuItem
              key={choice.text}
              dense
              selected={choice.value === value}
              onClick={() => {
                onChoose(choice.value)
                setAnchor(null)
              }}
            >
              {choice.text}
            </MenuItem>
          ))}
        </Menu>
      )}
    </>
  )
}

/** A word that is pressed. */
export function Toggle({ name, text, onToggle }: { name: string; text: string; onToggle: () => void }) {
  return (
    <Pressed name={name} onPress={onToggle}>
      {text}
    </Pressed>
  )
}

/** Names of elements may be long; the line must hold. */
const longest = 190

function Pressed({
  name,
  onPress,
  mayShrink = false,
  children,
}: {
  name: string
  onPress: (word: HTMLElement) => void
  mayShrink?: boolean
  children: ReactNode
}) {
  return (
    <Link
      component="button"
      variant="body2"
      color="textPrimary"
      underline="always"
      aria-label={name}
      onClick={(event) => onPress(event.currentTarget)}
      noWrap
      sx={{
        textDecorationStyle: 'dotted',
        textUnderlineOffset: 3,
        maxWidth: longest,
        flexShrink: mayShrink ? 1 : 0,
      }}
    >
      {children}
    </Link>
  )
}

export function Said({ children }: { children: ReactNode }) {
  return (
    <Typography variant="body2" color="textSecondary" sx={{ flexShrink: 0 }}>
      {children}
    </Typography>
  )
}
