/** Where nothing was shot for reference: another shot of the series, under the same lamps, whose gain is taken. */

import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import { serverCache } from '../../api/server-cache'
import { useAppSelector } from '../../store'

const none = 'none'

/** @param chosen a shot's id; null for none */
export function GainFrom({ chosen, onChoose }: { chosen: string | null; onChoose: (shot: string | null) => void }) {
  const own = useAppSelector((state) => state.shot.id)
  // Others come and go while this shot is open.
  const { data = [] } = serverCache.useShotsQuery(undefined, { refetchOnMountOrArgChange: true })
  const others = data.filter(({ id, fault, removed }) => id !== own && fault === null && !removed)
  if (others.length === 0) return null
  const known = others.some(({ id }) => id === chosen)
  return (
    <TextField
      select
      size="small"
      variant="standard"
      label="Gain from another shot"
      helperText="Of an element with the same name, rendered under the same lamps."
      value={known ? chosen : none}
      onChange={({ target }) => onChoose(target.value === none ? null : target.value)}
    >
      <MenuItem value={none} dense>
        None
      </MenuItem>
      {others.map(({ id, name }) => (
        <MenuItem key={id} value={id} dense>
          {name}
        </MenuItem>
      ))}
    </TextField>
  )
}
