/** A folder of media: where it lies, its folders, and its sequences and files, each with a small picture. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import ButtonBase from '@mui/material/ButtonBase'
import Checkbox from '@mui/material/Checkbox'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import type { MediaEntry, MediaFolder } from '../../../core/check'
import { mediaPictureUrl } from '../api/client'

export const joined = (folder: string, name: string) => (folder === '' ? name : `${folder}/${name}`)

export function entryText({ frames, count, missing }: Pick<MediaEntry, 'frames' | 'count' | 'missing'>): string {
  if (!frames) return 'one file'
  return `${frames.first} to ${frames.last}, ${count} files${missing.length > 0 ? `, missing from ${missing[0]}` : ''}`
}

/** The way down to a folder; each step leads back to it. */
export function FolderPath({ folder, onOpen }: { folder: string; onOpen: (folder: string) => void }) {
  const steps = folder === '' ? [] : folder.split('/')
  return (
    <Stack direction="row" component="nav" aria-label="Folder" sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
      <Button onClick={() => onOpen('')}>media</Button>
      {steps.map((step, i) => (
        <Button key={`${i}-${step}`} onClick={() => onOpen(steps.slice(0, i + 1).join('/'))}>
          / {step}
        </Button>
      ))}
    </Stack>
  )
}

interface FolderListProps {
  readonly found: MediaFolder | null
  readonly height: number | string
  readonly onOpen: (folder: string) => void
  /** the entry that is looked at */
  readonly chosen?: MediaEntry | null
  readonly onChoose?: (entry: MediaEntry) => void
  /** paths of the entries that are ticked; absent: nothing can be */
  readonly ticked?: readonly string[]
  readonly onTick?: (path: string) => void
}

export function FolderList({ found, height, onOpen, chosen, onChoose, ticked, onTick }: FolderListProps) {
  const folder = found?.folder ?? ''
  return (
    <Box sx={{ flex: 1, height, overflow: 'auto', border: 1, borderColor: 'divider' }}>
      {found?.folders.map((one) => (
        <Entry key={one} text={`${one}/`} note="" selected={false} onClick={() => onOpen(joined(folder, one))} />
      ))}
      {found?.entries.map((entry) => {
        const path = joined(folder, entry.pattern)
        return (
          <Entry
            key={entry.pattern}
            text={entry.pattern}
            note={entry.kind === 'picture' ? entryText(entry) : entry.kind}
            picture={entry.kind === 'picture' ? { path, frame: entry.frames?.first ?? null } : null}
            selected={entry === chosen}
            ticked={ticked?.includes(path)}
            onClick={() => (onTick ? onTick(path) : onChoose?.(entry))}
          />
        )
      })}
      {found && found.folders.length + found.entries.length === 0 && (
        <Typography variant="body2" sx={{ p: 1 }}>
          Nothing here that can be imported. Choose another folder, or drag files in below.
        </Typography>
      )}
    </Box>
  )
}

const thumbnail = { width: 48, height: 27 } as const

interface EntryProps {
  readonly text: string
  readonly note: string
  /** to be shown beside it, small */
  readonly picture?: { readonly path: string; readonly frame: number | null } | null
  readonly selected: boolean
  readonly ticked?: boolean
  readonly onClick: () => void
}

function Entry({ text, note, picture = null, selected, ticked, onClick }: EntryProps) {
  return (
    <ButtonBase
      onClick={onClick}
      {...(ticked === undefined ? {} : { role: 'checkbox', 'aria-checked': ticked })}
      sx={{
        display: 'flex',
        width: '100%',
        justifyContent: 'space-between',
        px: 1,
        py: 0.4,
        gap: 1,
        bgcolor: selected ? 'action.selected' : undefined,
        '&:hover': { bgcolor: 'action.selected' },
      }}
    >
      {ticked !== undefined && (
        <Checkbox
          size="small"
          color="default"
          checked={ticked}
          tabIndex={-1}
          aria-hidden
          disableRipple
          sx={{ p: 0, pointerEvents: 'none' }}
        />
      )}
      {picture && (
        <img
          src={mediaPictureUrl(picture.path, picture.frame)}
          alt=""
          loading="lazy"
          {...thumbnail}
          style={{ objectFit: 'contain', flexShrink: 0 }}
        />
      )}
      <Typography variant="body2" noWrap sx={{ flex: 1, textAlign: 'left' }}>
        {text}
      </Typography>
      <Typography variant="caption" color="textSecondary" sx={{ flexShrink: 0 }}>
        {note}
      </Typography>
    </ButtonBase>
  )
}
