/** Finds lines, brings strokes onto edges and measures lenses on the server; what comes of it is an edit. */

import { useEffect } from 'react'
import { useStore } from 'react-redux'
import { valueAt } from '../../../../core/motion/curve'
import { allOf, find, measuredLens, newId, type Change, type StraightLine } from '../../../../core/shot'
import { lensOfChart, measureLens, straightLines } from '../../api/client'
import { useAppDispatch, useAppSelector } from '../../store'
import { lensActions, type WantedOfLens } from '../../store/lens'
import { selectDocument } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'
import type { RootState } from '../../store/state'

export function useLens(): void {
  const dispatch = useAppDispatch()
  const store = useStore<RootState>()
  const wanted = useAppSelector((state) => state.lens.wanted)
  useEffect(() => {
    if (!wanted) return
    let left = false
    const end = (sentence: string | null) =>
      left || dispatch(lensActions.ended(sentence === null ? null : { treatment: wanted.treatment, sentence }))
    const edit = (change: Change | null) =>
      left || dispatch(change ? shotActions.edited(change) : shotActions.drafted(null))
    const act =
      wanted.act === 'measure' ? measure(wanted) : wanted.act === 'chart' ? ofChart(wanted) : takeLines(wanted)
    act.then(
      ({ change, sentence }) => {
        edit(change)
        end(sentence)
      },
      (error: Error) => {
        edit(null)
        end(error.message)
      },
    )
    return () => {
      left = true
    }

    async function takeLines(asked: Extract<WantedOfLens, { act: 'find' | 'draw' }>): Promise<Outcome> {
      const id = store.getState().shot.id
      if (id === null) return nothing
      const { treatment, source, frame } = asked
      const stroke = asked.act === 'draw' ? asked.stroke : undefined
      const { lines } = await straightLines(id, { source, frame, ...(stroke ? { stroke } : {}) })
      if (lines.length === 0) return { change: null, sentence: asked.act === 'draw' ? noEdge : noLines }
      const shot = selectDocument(store.getState())
      const before = shot && find(shot.treatments, treatment)?.lines
      // Found again on the same picture, they take the place of those that were found there before.
      const gone = asked.act === 'find' && before ? allOf(before).filter(isOn(asked)) : []
      const kept = lines.map((points): StraightLine => ({
        ...{ id: newId(), frame, points },
        ...(source === null ? {} : { source }),
      }))
      return {
        change: {
          kind: 'set-lines',
          treatment,
          lines: Object.fromEntries([...gone.map((one) => [one.id, null]), ...kept.map((one) => [one.id, one])]),
        },
        sentence: null,
      }
    }

    async function ofChart(asked: Extract<WantedOfLens, { act: 'chart' }>): Promise<Outcome> {
      const state = store.getState()
      const shot = selectDocument(state)
      const settings = shot && find(shot.treatments, asked.treatment)
      if (!shot || !settings || state.shot.id === null) return nothing
      const { treatment, source, frame, tangential } = asked
      const squeeze = valueAt(settings.parameters.squeeze[0], frame)
      const result = await lensOfChart(state.shot.id, { source, frame, squeeze, tangential })
      if (!left) dispatch(lensActions.measuredOfChart({ treatment, source, result }))
      return { change: measuredLens(shot, treatment, result.lens, frame, 'a chart'), sentence: null }
    }

    async function measure(asked: Extract<WantedOfLens, { act: 'measure' }>): Promise<Outcome> {
      const state = store.getState()
      const shot = selectDocument(state)
      const settings = shot && find(shot.treatments, asked.treatment)
      if (!shot || !settings || state.shot.id === null) return nothing
      const lines = settings.lines ? allOf(settings.lines) : []
      const squeeze = valueAt(settings.parameters.squeeze[0], asked.frame)
      const given = { lines: lines.map(({ points }) => points), squeeze, tangential: asked.tangential }
      const result = await measureLens(state.shot.id, given)
      const found = { treatment: asked.treatment, lines: lines.map((line) => line.id), result }
      if (!left) dispatch(lensActions.measured(found))
      return {
        change: measuredLens(
          shot,
          asked.treatment,
          result.lens,
          asked.frame,
          `${result.used.length} straight ${result.used.length === 1 ? 'line' : 'lines'}`,
        ),
        sentence: null,
      }
    }
  }, [wanted, dispatch, store])
}

interface Outcome {
  readonly change: Change | null
  readonly sentence: string | null
}
const nothing: Outcome = { change: null, sentence: null }
const noEdge = 'There is no clear edge along that stroke. Draw closer along it, or choose a stronger one.'
const noLines = 'No long straight edges were found on this frame. Draw along some, or choose another frame or a chart.'

export const isOn =
  ({ source, frame }: { readonly source: string | null; readonly frame: number }) =>
  (line: StraightLine): boolean =>
    (line.source ?? null) === source && line.frame === frame
