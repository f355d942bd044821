/** A column of the screen that folds to its edge, and then lies over the picture while a key is held. */

import Box from '@mui/material/Box'
import ButtonBase from '@mui/material/ButtonBase'
import type { ReactNode } from 'react'
import { useAppDispatch, useAppSelector } from '../store'
import { viewChanged } from '../store/view'

/** Of a folded column, screen pixels. */
export const foldedWidth = 24
const foldHeight = 18

interface FoldableProps {
  readonly area: 'column' | 'card'
  readonly name: string
  /** when it is not folded: one for narrow screens, one for wide ones */
  readonly width: { readonly xs: string; readonly xl: string }
  readonly children: ReactNode
}

export function Foldable({ area, name, width, children }: FoldableProps) {
  const dispatch = useAppDispatch()
  const pictureOnly = useAppSelector((state) => state.view.screen.pictureOnly)
  const folded = useAppSelector((state) => state.view.screen.folded.includes(area))
  const peek = useAppSelector((state) => state.view.screen.peek)
  const all = useAppSelector((state) => state.view.screen.folded)
  const side = area === 'column' ? 'left' : 'right'
  const change = (now: boolean) =>
    dispatch(viewChanged({ screen: { folded: now ? [...all, area] : all.filter((one) => one !== area) } }))
  if (!folded && !pictureOnly)
    return (
      <Box
        sx={{
          gridArea: area,
          display: 'grid',
          gridTemplateAreas: `"${area}" "fold"`,
          gridTemplateColumns: 'minmax(0, 1fr)',
          gridTemplateRows: `minmax(0, 1fr) ${foldHeight}px`,
          minHeight: 0,
        }}
      >
        {children}
        <ButtonBase
          aria-label={`Fold ${name}`}
          title={`Fold ${name}; hold C to see it over the picture`}
          onClick={() => change(true)}
          sx={{
            gridArea: 'fold',
            justifyContent: side === 'left' ? 'flex-start' : 'flex-end',
            px: 0.75,
            fontSize: 11,
            color: 'text.secondary',
            [side === 'left' ? 'borderRight' : 'borderLeft']: 1,
            borderColor: 'divider',
          }}
        >
          {side === 'left' ? '◂ Fold' : 'Fold ▸'}
        </ButtonBase>
      </Box>
    )
  const edge = pictureOnly ? 0 : foldedWidth
  return (
    <Box sx={{ gridArea: area, position: 'relative', overflow: 'visible !important', zIndex: 2 }}>
      {!pictureOnly && (
        <ButtonBase
          aria-label={`Unfold ${name}`}
          onClick={() => change(false)}
          sx={{
            width: '100%',
            height: '100%',
            fontSize: 12,
            color: 'text.secondary',
            writingMode: 'vertical-rl',
            [side === 'left' ? 'borderRight' : 'borderLeft']: 1,
            borderColor: 'divider',
          }}
        >
          {name}
        </ButtonBase>
      )}
      {peek && (
        <Box
          sx={{
            position: 'absolute',
            top: 0,
            bottom: 0,
            [side]: edge,
            width,
            display: 'grid',
            gridTemplateAreas: `"${area}"`,
            gridTemplateColumns: 'minmax(0, 1fr)',
            gridTemplateRows: 'minmax(0, 1fr)',
            minHeight: 0,
            bgcolor: 'background.default',
            boxShadow: 8,
            overflow: 'hidden',
          }}
        >
          {children}
        </Box>
      )}
    </Box>
  )
}
