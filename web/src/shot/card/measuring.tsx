/** A button that measures something of the plate, and under it what came of it. */

import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { useState } from 'react'

/** @returns what is said, and what measures: while it runs that is said, then the sentence it gives, or why it failed */
export function useMeasuring(measure: () => Promise<string | null>) {
  const [says, setSays] = useState<string | null>(null)
  const run = async () => {
    setSays('Measuring …')
    try {
      setSays(await measure())
    } catch (error) {
      setSays(error instanceof Error ? error.message : String(error))
    }
  }
  return { says, run: () => void run() }
}

/** @param hint said before anything was measured */
export function MeasurePlate({
  measuring: { says, run },
  hint,
}: {
  readonly measuring: ReturnType<typeof useMeasuring>
  readonly hint: string
}) {
  return (
    <>
      <Button sx={{ ml: -0.6 }} onClick={run}>
        Measure the plate’s
      </Button>
      <Typography variant="caption" color="textSecondary" role="status">
        {says ?? hint}
      </Typography>
    </>
  )
}
