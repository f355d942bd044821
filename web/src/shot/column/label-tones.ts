/** The labels' colours: muted, so that they tell elements apart and do not colour the eye. */

import type { LabelColour } from '../../../../core/shot'

export const labelTones: Readonly<Record<LabelColour, string>> = {
  sand: '#a89a78',
  moss: '#7f9272',
  slate: '#7d8da3',
  plum: '#957f99',
  rust: '#a5806e',
  mist: '#9aa6a6',
}
