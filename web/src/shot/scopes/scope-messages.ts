/** What the page and the thread that works scopes out say to each other. */

import type { LightWindow, Weights } from '../../../../core/measure/scopes'
import type { Scope } from '../../store/view-slice'

export type LayerName = 'plate' | 'element' | 'composite'

export interface ScopeRequest {
  readonly id: number
  readonly kind: Exclude<Scope, 'none'>
  readonly layers: readonly { readonly name: LayerName; readonly window: LightWindow }[]
  readonly luma: Weights
  /** of a waveform or a parade; steps of a histogram; side of a vectorscope */
  readonly columns: number
}

export interface ScopeAnswer {
  readonly id: number
  readonly kind: ScopeRequest['kind']
  /** one trace, or one each for red, green and blue */
  readonly layers: readonly { readonly name: LayerName; readonly traces: readonly Float32Array[] }[]
}
