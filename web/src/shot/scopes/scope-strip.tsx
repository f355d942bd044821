/** The scope under the picture; a waveform's columns stand under the picture's own. */

import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import { useTheme } from '@mui/material/styles'
import { useCallback, useRef } from 'react'
import { useAppSelector } from '../../store'
import { selectElementName, selectScopedRegion } from '../../store/selectors'
import { drawScope } from './draw-scope'
import { useScope, type DrawnScope } from './use-scope'

export const scopeHeight = 127
/** Marked on the page's timeline whenever a new scope is drawn; the bench reads it. */
const scopeMark = 'enkrasis:scope'

/** @param across where the picture lies inside the strip, in screen pixels */
export function ScopeStrip({ left, width, stripWidth }: { left: number; width: number; stripWidth: number }) {
  const { palette } = useTheme()
  const canvas = useRef<HTMLCanvasElement>(null)
  const kind = useAppSelector((state) => state.view.looking.scope)
  const region = useAppSelector(selectScopedRegion)
  const elementName = useAppSelector(selectElementName)
  const draw = useCallback(
    (scope: DrawnScope) => {
      if (!canvas.current) return
      const { text, divider, primary } = palette
      const tones = {
        text: text.secondary,
        line: divider,
        plate: text.secondary,
        element: primary.main,
        composite: text.primary,
      }
      drawScope(canvas.current, scope, { left, width }, tones)
      canvas.current.dataset.drawn = scope.about
      performance.mark(scopeMark)
    },
    [palette, left, width],
  )
  useScope(width / 2, draw)
  return (
    <Box
      sx={{ height: scopeHeight, borderTop: 1, borderColor: 'divider', position: 'relative' }}
      role="img"
      aria-label="Scope"
    >
      <canvas
        ref={canvas}
        width={Math.max(1, Math.round(stripWidth))}
        height={scopeHeight}
        style={{ display: 'block' }}
      />
      <Typography variant="caption" color="textSecondary" sx={{ position: 'absolute', right: 8, top: 2 }}>
        {kind === 'vectorscope' ? 'colour' : 'stops around 0.18'}
        {region ? `, of region ${region.id}` : ''}: <b>plate</b>,{' '}
        <Box component="b" sx={{ color: 'primary.main' }}>
          {elementName ?? 'element'}
        </Box>
        {kind === 'vectorscope' ? ', composite faint' : ', composite as a line'}
      </Typography>
    </Box>
  )
}
