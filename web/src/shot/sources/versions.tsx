/** Versions of a source found beside its files: the newest in one action, any other by choice; what is different is said. */

import Button from '@mui/material/Button'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import Stack from '@mui/material/Stack'
import Typography from '@mui/material/Typography'
import { lazy, Suspense, useEffect, useState } from 'react'
import { useStore } from 'react-redux'
import type { Source } from '../../../../core/shot'
import { listVersions, proposeReplacement, type Replacement, type SourceVersion } from '../../api/client'
import { useAppDispatch, useAppSelector } from '../../store'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'
import { viewChanged } from '../../store/view'

const ImportSources = lazy(() => import('./import-sources').then((module) => ({ default: module.ImportSources })))

const versionText = (number: number) => `v${String(number).padStart(3, '0')}`

/** What is looked for again every so often: renders arrive. */
const lookMs = 8000

export function Versions({ source }: { source: Source }) {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const id = useAppSelector((state) => state.shot.id) ?? ''
  const [found, setFound] = useState<{ present: number | null; versions: readonly SourceVersion[] } | null>(null)
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const [choosing, setChoosing] = useState(false)
  const [done, setDone] = useState<Replacement | null>(null)
  const [problem, setProblem] = useState<string | null>(null)
  useEffect(() => {
    let left = false
    const look = () =>
      listVersions(id, source.id).then(
        (versions) => left || setFound(versions),
        () => undefined,
      )
    void look()
    const timer = setInterval(() => void look(), lookMs)
    return () => {
      left = true
      clearInterval(timer)
    }
  }, [id, source.id, source.path])

  const use = (files: { readonly path: string } | { readonly chosen: string }, called: string) => {
    setAnchor(null)
    setChoosing(false)
    proposeReplacement(id, source.id, files).then(
      (replacement) => {
        const { shot, revision } = store.getState().shot
        const { path, frames, firstFile } = replacement
        dispatch(
          shotActions.edited({
            kind: 'together',
            changes: [{ kind: 'set-source', source: source.id, changes: { path, frames, firstFile } }],
            label: `${source.name}: ${called}`,
          }),
        )
        // Old and new are flipped in place as picture and other.
        if (shot) dispatch(viewChanged({ comparing: { other: { kind: 'revision', revision, shot } } }))
        setProblem(null)
        setDone(replacement)
      },
      (error: Error) => setProblem(error.message),
    )
  }
  const others = found?.versions.filter(({ number }) => number !== found.present) ?? []
  const newest = others.at(-1)
  const newer = newest && found && newest.number > (found.present ?? 0) ? newest : null
  return (
    <Stack spacing={0.5} role="group" aria-label="Version" sx={{ borderTop: 1, borderColor: 'divider', pt: 0.5 }}>
      <Stack direction="row" sx={{ alignItems: 'center', flexWrap: 'wrap', columnGap: 0.5 }}>
        <Typography variant="body2">
          {found?.present === null || !found ? 'Files without a version' : `Version ${versionText(found.present)}`}
        </Typography>
        {newer && (
          <Button
            variant="outlined"
            sx={{ py: 0 }}
            onClick={() => use({ path: newer.path }, versionText(newer.number))}
          >
            Use {versionText(newer.number)}
          </Button>
        )}
        {others.length > 0 && (
          <Button sx={{ py: 0, minWidth: 0 }} aria-haspopup="menu" onClick={(event) => setAnchor(event.currentTarget)}>
            Others
          </Button>
        )}
        <Button sx={{ py: 0, minWidth: 0 }} onClick={() => setChoosing(true)}>
          Other files …
        </Button>
      </Stack>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        {[...others].reverse().map(({ number, path, frames, count }) => (
          <MenuItem key={path} dense onClick={() => use({ path }, versionText(number))}>
            {versionText(number)}, {frames ? `${frames.first} to ${frames.last}, ${count} files` : 'one file'}
          </MenuItem>
        ))}
      </Menu>
      {problem !== null && (
        <Typography role="alert" variant="caption" color="primary">
          {problem}
        </Typography>
      )}
      {done && done.path === source.path && (
        <Stack component="ul" aria-label="What is different" sx={{ m: 0, pl: 2 }}>
          {done.changes.length === 0 && (
            <Typography variant="caption">Passes, frames, size and encoding are the same.</Typography>
          )}
          {done.changes.map((line) => (
            <Typography key={line} variant="caption" component="li">
              {line}
            </Typography>
          ))}
          <Typography variant="caption" color="textSecondary">
            Hold O to see it as it was before.
          </Typography>
        </Stack>
      )}
      <Suspense>
        {choosing && (
          <ImportSources
            title={`Other files for ${source.name}`}
            action="Use these"
            onClose={() => setChoosing(false)}
            onTake={(path) => use({ chosen: path }, 'other files')}
          />
        )}
      </Suspense>
    </Stack>
  )
}
