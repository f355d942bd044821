/** Has the sources measured while somebody looks at them, and again when their files change. */

import { useEffect, useState } from 'react'
import { loadReports } from '../../api/client'
import { useAppDispatch, useAppSelector } from '../../store'
import { selectDocument } from '../../store/selectors'
import { shotActions } from '../../store/shot-slice'

/** Files that are still arriving change the catalog every few seconds. */
const restMs = 1500

export interface Measuring {
  readonly busy: boolean
  readonly problem: string | null
}

export function useReports(wanted: boolean): Measuring {
  const dispatch = useAppDispatch()
  const name = useAppSelector((state) => selectDocument(state)?.name)
  const catalog = useAppSelector((state) => state.shot.catalog)
  const saved = useAppSelector((state) => state.shot.unsaved.length === 0)
  const sources = useAppSelector((state) => selectDocument(state)?.sources)
  const known = useAppSelector((state) => state.shot.reports !== null)
  const [state, setState] = useState<Measuring>({ busy: false, problem: null })
  const about = JSON.stringify(sources?.map(({ id, path, frames }) => [id, path, frames]))
  useEffect(() => {
    if (!wanted || name === undefined || !saved) return
    let gone = false
    const timer = setTimeout(
      () => {
        setState({ busy: true, problem: null })
        loadReports(name).then(
          (reports) => {
            if (gone) return
            dispatch(shotActions.reportsRead(reports))
            setState({ busy: false, problem: null })
          },
          (error: Error) => gone || setState({ busy: false, problem: error.message }),
        )
      },
      known ? restMs : 0,
    )
    return () => {
      gone = true
      clearTimeout(timer)
    }
    // `known` only says how long to wait; having learnt something is no reason to ask again.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [wanted, name, about, catalog, saved, dispatch])
  return state
}
