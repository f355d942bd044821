/** One delivery: how it stands, what it made, its files. */

import Button from '@mui/material/Button'
import Link from '@mui/material/Link'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import { outputSentence, versionName, type DeliveredFile, type DeliveryStatus } from '../../../../core/delivery'
import type { Shot } from '../../../../core/shot'
import { archiveUrl, deliveredFileUrl, listDeliveredFiles, removeDelivery } from '../../api/client'
import { deliveryChanged } from '../../api/server-cache'
import { bytesText } from '../../bytes-text'
import { useAppDispatch } from '../../store'
import { WorkEntry } from '../../work/work-entry'

export function DeliveryEntry({ shot, delivery }: { shot: Shot; delivery: DeliveryStatus }) {
  const { version, first, last, scale, folder, clamped, bytes, removed, work, outputs } = delivery
  const title = `${versionName(version)}, ${first} to ${last}${scale === 1 ? '' : ` at 1/${scale} size`}`
  return (
    <WorkEntry work={work} title={title} removed={removed}>
      {outputs.map((output, i) => (
        <Typography key={i} variant="caption" color="textSecondary" component="div">
          {outputSentence(shot, output)}
        </Typography>
      ))}
      {clamped.values > 0 && (
        <Typography variant="caption" component="div">
          {clamped.values} values on {clamped.frames} frames do not fit the samples of the files and were held to what
          does. Deliver EXR of floats to keep them.
        </Typography>
      )}
      <Typography variant="caption" color="textSecondary" component="div" role="group" aria-label="Folder">
        {removed ? 'Its files were removed.' : `${folder}, ${bytesText(bytes)}`}
      </Typography>
      {!removed && bytes > 0 && <Files delivery={delivery} />}
    </WorkEntry>
  )
}

function Files({ delivery: { id, shotId } }: { delivery: DeliveryStatus }) {
  const dispatch = useAppDispatch()
  const [files, setFiles] = useState<readonly DeliveredFile[] | null>(null)
  const [sure, setSure] = useState(false)
  const remove = () => removeDelivery(id).then((now) => dispatch(deliveryChanged(shotId, now)))
  return (
    <>
      <Stack direction="row" sx={{ ml: -0.6 }}>
        <Button
          aria-expanded={files !== null}
          onClick={() => (files ? setFiles(null) : void listDeliveredFiles(id).then(setFiles))}
        >
          {files ? 'Hide files' : 'Files'}
        </Button>
        <Button href={archiveUrl(id)}>Download all</Button>
        {sure ? (
          <Button onClick={() => void remove()}>Really remove</Button>
        ) : (
          <Button onClick={() => setSure(true)}>Remove</Button>
        )}
      </Stack>
      {files && (
        <Stack role="list" aria-label="Files" sx={{ maxHeight: 160, overflow: 'auto' }}>
          {files.map(({ name, bytes }) => (
            <Typography key={name} role="listitem" variant="caption" sx={{ overflowWrap: 'anywhere' }}>
              <Link href={deliveredFileUrl(id, name)} color="inherit">
                {name}
              </Link>{' '}
              {bytesText(bytes)}
            </Typography>
          ))}
        </Stack>
      )}
    </>
  )
}
