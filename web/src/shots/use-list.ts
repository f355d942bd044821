/** What the list shows, read again every few seconds. */

import { useCallback, useEffect, useState } from 'react'
import type { OfferedShot, WorkStatus } from '../../../core/work'
import { listOfferedShots, listShots, listWork, makeDemoShot, type ShotSummary } from '../api/client'

const refreshMs = 3000

export interface ListOfShots {
  /** null until it was read */
  readonly shots: readonly ShotSummary[] | null
  readonly offered: readonly OfferedShot[]
  readonly work: readonly WorkStatus[]
  readonly complaints: readonly string[]
  readonly read: () => void
  readonly make: (name: string, small: boolean) => void
}

export function useList(): ListOfShots {
  const [shots, setShots] = useState<readonly ShotSummary[] | null>(null)
  const [offered, setOffered] = useState<readonly OfferedShot[]>([])
  const [work, setWork] = useState<readonly WorkStatus[]>([])
  const [complaints, setComplaints] = useState<readonly string[]>([])
  const complain = (error: Error) => setComplaints([error.message])
  const read = useCallback(() => {
    // The shots are what one waits for.
    listShots().then((found) => {
      setShots(found.shots)
      setComplaints(found.complaints)
    }, complain)
    Promise.all([listOfferedShots(), listWork('')]).then(([demo, works]) => {
      setOffered(demo)
      setWork(works)
    }, complain)
  }, [])
  useEffect(() => {
    read()
    const timer = setInterval(read, refreshMs)
    return () => clearInterval(timer)
  }, [read])
  const make = useCallback(
    (name: string, small: boolean) => void makeDemoShot(name, small).then(read, complain),
    [read],
  )
  return { shots, offered, work, complaints, read, make }
}
