/** A region of the screen that failed says so; everything around it goes on. */

import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { Component, type ErrorInfo, type ReactNode } from 'react'

export function BrokenRegion({ name, onAgain }: { name: string; onAgain?: () => void }) {
  return (
    <Box role="alert" sx={{ p: 1.5, overflow: 'auto', height: '100%' }}>
      <Typography variant="body2">
        {name} could not be drawn. Nothing is lost: every change is saved as it is made.
      </Typography>
      <Button sx={{ mt: 1 }} variant="outlined" onClick={onAgain ?? (() => location.reload())}>
        {onAgain ? 'Try again' : 'Reload'}
      </Button>
    </Box>
  )
}

interface RegionProps {
  /** as it is called in a sentence: "The light path" */
  readonly name: string
  /** its place in the screen's grid */
  readonly area: string
  readonly children: ReactNode
}

export class Region extends Component<RegionProps, { readonly broken: boolean }> {
  override state = { broken: false }

  static getDerivedStateFromError() {
    return { broken: true }
  }

  override componentDidCatch(error: Error, { componentStack }: ErrorInfo) {
    console.error(`${this.props.name}: ${error.message}`, componentStack)
  }

  override render() {
    if (!this.state.broken) return this.props.children
    return (
      <Box sx={{ gridArea: this.props.area }}>
        <BrokenRegion name={this.props.name} onAgain={() => this.setState({ broken: false })} />
      </Box>
    )
  }
}
