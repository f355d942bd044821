/** The clips of a new shot: a picture, what each is taken to be, its frames and its size. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import Table from '@mui/material/Table'
import TableBody from '@mui/material/TableBody'
import TableCell from '@mui/material/TableCell'
import TableHead from '@mui/material/TableHead'
import TableRow from '@mui/material/TableRow'
import { useState } from 'react'
import { mediaKind } from '../../../core/shot'
import type { ProposedClip } from '../../../core/new-shot'
import { mediaPictureUrl } from '../api/client'
import { MovieProgress } from '../media/movie-progress'
import { clipWords } from './clip-words'

interface ClipTableProps {
  readonly clips: readonly ProposedClip[]
  readonly plate: string
  readonly without: readonly string[]
  readonly onChange: (without: readonly string[]) => void
  /** frames of a movie are there, as a sequence of this name */
  readonly onDecoded: (pattern: string) => void
}

const picture = { width: 80, height: 45 } as const

export function ClipTable({ clips, plate, without, onChange, onDecoded }: ClipTableProps) {
  return (
    <Table size="small" aria-label="Files" sx={{ '& td, & th': { px: 1, py: 0.25 } }}>
      <TableHead>
        <TableRow>
          <TableCell>Use</TableCell>
          <TableCell />
          <TableCell>File</TableCell>
          <TableCell>What it is</TableCell>
          <TableCell>Frames</TableCell>
          <TableCell>Size</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {clips.map((clip) => {
          const { path, frames, size, problem, role } = clip
          const isPlate = path === plate
          const usable = problem === null && role !== 'movie' && role !== 'none'
          const used = usable && !without.includes(path)
          return (
            <TableRow key={path} sx={{ opacity: used ? 1 : 0.8 }}>
              <TableCell padding="checkbox">
                <Checkbox
                  size="small"
                  color="default"
                  checked={used}
                  disabled={!usable || isPlate}
                  slotProps={{ input: { 'aria-label': `Use ${path}` } }}
                  onChange={() => onChange(used ? [...without, path] : without.filter((one) => one !== path))}
                />
              </TableCell>
              <TableCell>
                {mediaKind(path) === 'picture' && problem === null && role !== 'map' ? (
                  <img
                    src={mediaPictureUrl(path, frames?.first ?? null)}
                    alt=""
                    loading="lazy"
                    {...picture}
                    style={{ objectFit: 'contain', display: 'block' }}
                  />
                ) : (
                  <Box sx={picture} />
                )}
              </TableCell>
              <TableCell sx={{ wordBreak: 'break-all' }}>{path}</TableCell>
              <TableCell>
                {role === 'movie' && problem === null ? (
                  <MovieClip path={path} onDecoded={onDecoded} />
                ) : (
                  clipWords(clip, isPlate)
                )}
              </TableCell>
              <TableCell sx={{ whiteSpace: 'nowrap' }}>
                {frames ? `${frames.first} to ${frames.last}` : 'one'}
              </TableCell>
              <TableCell sx={{ whiteSpace: 'nowrap' }}>{size ? `${size.width} x ${size.height}` : ''}</TableCell>
            </TableRow>
          )
        })}
      </TableBody>
    </Table>
  )
}

/** A movie becomes a sequence before it can be used: decoded once, frame by frame. */
function MovieClip({ path, onDecoded }: { path: string; onDecoded: (pattern: string) => void }) {
  const [decoding, setDecoding] = useState(false)
  if (decoding) return <MovieProgress path={path} onDone={onDecoded} />
  return (
    <Button sx={{ ml: -0.6 }} onClick={() => setDecoding(true)}>
      movie: decode it, to use its frames
    </Button>
  )
}
