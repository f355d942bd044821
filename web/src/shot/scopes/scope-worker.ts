/** Works scopes out, away from the thread that draws the page. */

import { encoder } from '../../../../core/colour'
import { colourPlane, levelBand, levelHistogram } from '../../../../core/measure/scopes'
import type { ScopeAnswer, ScopeRequest } from './scope-messages'

const channels = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
] as const

function answer({ kind, layers, luma, columns }: ScopeRequest): ScopeAnswer['layers'] {
  const code = encoder('srgb')
  return layers.map(({ name, window }) => {
    const weights = kind === 'parade' || kind === 'histogram' ? channels : [luma]
    switch (kind) {
      case 'waveform':
        return { name, traces: weights.map((one) => levelBand(window, one, columns)) }
      case 'parade':
        return { name, traces: weights.map((one) => levelBand(window, one, Math.floor(columns / 3))) }
      case 'histogram':
        return { name, traces: weights.map((one) => levelHistogram(window, one, columns)) }
      case 'vectorscope':
        return { name, traces: [colourPlane(window, code, columns)] }
    }
  })
}

self.onmessage = ({ data }: MessageEvent<ScopeRequest>) => {
  const said: ScopeAnswer = { id: data.id, kind: data.kind, layers: answer(data) }
  self.postMessage(said)
}
