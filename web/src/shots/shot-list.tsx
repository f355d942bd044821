/** The list of shots that the server knows: found, ordered, opened; and the way to a new one. */

import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import Stack from '@mui/material/Stack'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useMemo, useRef, useState } from 'react'
import { Link as RouterLink } from 'react-router'
import { PersonField } from '../people/person-field'
import { WorkCorner } from '../work/work-corner'
import { listRows, type ListRow, type ListShelf, type ListSort, type ListWishes } from './list-order'
import { OfferedEntry } from './offered-entry'
import { entryHeight, ShotEntry } from './shot-entry'
import { useList, type ListOfShots } from './use-list'

const sequenceHeight = 36

const empty: Readonly<Record<ListShelf, string>> = {
  present: 'No shots yet. Make one from a plate and its renders with New shot, or have a demo shot made.',
  archived: 'Nothing is archived.',
  removed: 'Nothing was removed.',
}

export function ShotList() {
  const list = useList()
  const [wishes, setWishes] = useState<ListWishes>({ search: '', sort: 'name', shelf: 'present' })
  const rows = useMemo(() => listRows(list.shots ?? [], wishes), [list.shots, wishes])
  return (
    <Box sx={{ height: '100vh', display: 'flex', flexDirection: 'column', maxWidth: 1080, mx: 'auto', px: 3 }}>
      <Stack direction="row" spacing={2} sx={{ py: 1.5, alignItems: 'center' }}>
        <Typography variant="h1" sx={{ flex: 1 }}>
          Enkrasis
        </Typography>
        <WorkCorner work={list.work} />
        <PersonField />
        <Button component={RouterLink} to="/new" variant="contained">
          New shot
        </Button>
      </Stack>
      <Wishes wishes={wishes} onChange={setWishes} />
      {list.complaints.map((text) => (
        <Alert key={text} severity="warning" variant="outlined" sx={{ mb: 1 }}>
          {text}
        </Alert>
      ))}
      {list.shots !== null && rows.length === 0 && (
        <Typography sx={{ py: 2 }}>
          {wishes.search === '' ? empty[wishes.shelf] : 'No shot has these words in its name.'}
        </Typography>
      )}
      <Rows rows={rows} list={list} offered={wishes.shelf === 'present' && wishes.search === ''} />
    </Box>
  )
}

function Wishes({ wishes, onChange }: { wishes: ListWishes; onChange: (wishes: ListWishes) => void }) {
  return (
    <Stack direction="row" spacing={1.5} sx={{ pb: 1.5 }} role="search">
      <TextField
        size="small"
        label="Search"
        value={wishes.search}
        sx={{ flex: 1 }}
        onChange={({ target }) => onChange({ ...wishes, search: target.value })}
      />
      <TextField
        select
        size="small"
        label="Order"
        value={wishes.sort}
        sx={{ width: 160 }}
        onChange={({ target }) => onChange({ ...wishes, sort: target.value as ListSort })}
      >
        <MenuItem value="name">by sequence</MenuItem>
        <MenuItem value="changed">by last change</MenuItem>
      </TextField>
      <TextField
        select
        size="small"
        label="Show"
        value={wishes.shelf}
        sx={{ width: 140 }}
        onChange={({ target }) => onChange({ ...wishes, shelf: target.value as ListShelf })}
      >
        <MenuItem value="present">present</MenuItem>
        <MenuItem value="archived">archived</MenuItem>
        <MenuItem value="removed">removed</MenuItem>
      </TextField>
    </Stack>
  )
}

const keyOf = (row: ListRow) => (row.kind === 'shot' ? row.shot.id : `sequence ${row.name}`)

/** Only the rows in sight are drawn. */
function Rows({ rows, list, offered }: { rows: readonly ListRow[]; list: ListOfShots; offered: boolean }) {
  const scroller = useRef<HTMLDivElement>(null)
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: (index) => (rows[index].kind === 'shot' ? entryHeight : sequenceHeight),
    getItemKey: (index) => keyOf(rows[index]),
    overscan: 6,
  })
  const making = (name: string) =>
    list.work.find(
      ({ kind, title, state }) => kind === 'demo-shot' && title.startsWith(`${name} `) && state !== 'done',
    ) ?? null
  return (
    <Box ref={scroller} role="region" aria-label="Shots" tabIndex={0} sx={{ flex: 1, overflow: 'auto', pb: 3 }}>
      <Box sx={{ height: virtual.getTotalSize(), position: 'relative' }}>
        {virtual.getVirtualItems().map(({ key, index, start }) => {
          const row = rows[index]
          return (
            <Box key={key} sx={{ position: 'absolute', left: 0, right: 0, top: start }}>
              {row.kind === 'shot' ? (
                <ShotEntry shot={row.shot} onChanged={list.read} />
              ) : (
                <Typography color="textSecondary" component="h2" sx={{ height: sequenceHeight, pt: 1.25, px: 1 }}>
                  {row.name}, {row.count} {row.count === 1 ? 'shot' : 'shots'}
                </Typography>
              )}
            </Box>
          )
        })}
      </Box>
      {offered && (
        <Stack spacing={0.5} sx={{ mt: 1 }}>
          {list.offered.map((shot) => (
            <OfferedEntry
              key={shot.name}
              shot={shot}
              work={making(shot.name)}
              onMake={(small) => list.make(shot.name, small)}
            />
          ))}
        </Stack>
      )}
    </Box>
  )
}
