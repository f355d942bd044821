/** Hue, saturation and value of colour (the hexcone of Smith, 1978), as a grey in place. */

import { PLANE } from './lanes'

/** @param which 0 hue as a share of the turn from red, 1 saturation, 2 value; 0 where there is none, NaN stays NaN */
export function hsvChannel(strip: usize, count: i32, which: i32): void {
  for (let i = 0; i < count; i++) {
    const p = strip + (<usize>i << 2)
    const r = load<f32>(p)
    const g = load<f32>(p, PLANE)
    const b = load<f32>(p, 2 * PLANE)
    const most = max(r, max(g, b))
    const range = most - min(r, min(g, b))
    let out: f32 = 0
    if (r + g + b !== r + g + b) out = reinterpret<f32>(0xffffffff)
    else if (which === 2) out = most
    else if (range > 0 && most > 0) {
      if (which === 1) out = min<f32>(1, range / most)
      else {
        let sixth: f32
        if (most === r) sixth = (g - b) / range
        else if (most === g) sixth = 2 + (b - r) / range
        else sixth = 4 + (r - g) / range
        out = (sixth < 0 ? sixth + 6 : sixth) / 6
      }
    }
    store<f32>(p, out)
    store<f32>(p, out, PLANE)
    store<f32>(p, out, 2 * PLANE)
  }
}
