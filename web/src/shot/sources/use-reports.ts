/** Has the sources measured while somebody looks at them, and again when their files change. */

import { useEffect, useRef } from 'react'
import { serverCache } from '../../api/server-cache'
import { useAppSelector } from '../../store'
import { selectMeasuring, selectReports, selectSources } from '../../store/selectors'

/** Files that are still arriving change the catalog every few seconds. */
const restMs = 1500

export interface Measuring {
  readonly busy: boolean
  readonly problem: string | null
}

export function useReports(wanted: boolean): Measuring {
  const id = useAppSelector((state) => state.shot.id)
  const catalog = useAppSelector((state) => state.shot.catalog)
  const saved = useAppSelector((state) => state.shot.unsaved.length === 0)
  const sources = useAppSelector(selectSources)
  const known = useAppSelector((state) => selectReports(state) !== null)
  const busy = useAppSelector((state) => selectMeasuring(state))
  const [measure, { error }] = serverCache.endpoints.reports.useLazyQuery()
  const about = JSON.stringify(sources.map(({ id: source, path, frames }) => [source, path, frames]))
  /** what was last asked for */
  const asked = useRef<{ readonly about: string; readonly catalog: typeof catalog } | null>(null)
  useEffect(() => {
    if (!wanted) asked.current = null
    // What is asked for while an answer is under way is never asked.
    if (!wanted || id === null || !saved || busy) return
    if (asked.current?.about === about && asked.current.catalog === catalog) return
    const ask = () => {
      asked.current = { about, catalog }
      void measure(id)
    }
    const timer = setTimeout(ask, known ? restMs : 0)
    return () => clearTimeout(timer)
    // `known` only says how long to wait; having learnt something is no reason to ask again.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [wanted, id, about, catalog, saved, busy, measure])
  return { busy, problem: typeof error === 'string' ? error : null }
}
