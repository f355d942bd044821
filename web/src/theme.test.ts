import { getContrastRatio } from '@mui/material/styles'
import { theme } from './theme'

/** WCAG 2.2, 1.4.3: text that is read, on everything that it stands on. */
const least = 4.5

const { text, background, action, primary } = theme.palette
const grounds = { ground: background.default, surface: background.paper, raised: action.selected }

test.each(Object.entries(grounds))('text on %s can be read', (_name, ground) => {
  for (const colour of [text.primary, text.secondary, primary.main])
    expect(getContrastRatio(colour, ground)).toBeGreaterThanOrEqual(least)
})

test('the accent carries dark text', () => {
  expect(getContrastRatio(primary.contrastText, primary.main)).toBeGreaterThanOrEqual(least)
})

/** What shines through where something is dimmed. */
function dimmed(colour: string, ground: string, opacity: number): string {
  const part = (hex: string, at: number) => parseInt(hex.slice(at, at + 2), 16)
  const mixed = [1, 3, 5].map((at) => Math.round(part(colour, at) * opacity + part(ground, at) * (1 - opacity)))
  return `rgb(${mixed.join(', ')})`
}

test('what is off, and what stands in an empty field, can be read', () => {
  for (const colour of [text.primary, text.secondary])
    expect(getContrastRatio(dimmed(colour, background.default, 0.8), background.default)).toBeGreaterThanOrEqual(least)
})
