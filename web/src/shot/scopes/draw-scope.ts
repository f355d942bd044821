/**
 * Draws scopes: plate and element as two bands in one plot, the composite as a line through them. The plate is a pale band,
 * the element a band in the accent hue; levels are stops around 0.18.
 */

import { leastStops, mostStops } from '../../../../core/measure/scopes'
import type { DrawnScope, LayerName } from './use-scope'

export interface ScopeColours {
  readonly text: string
  readonly line: string
  readonly plate: string
  readonly element: string
  readonly composite: string
}

const padding = { left: 30, bottom: 14, top: 4 }

interface Plot {
  readonly context: CanvasRenderingContext2D
  readonly left: number
  readonly width: number
  readonly top: number
  readonly height: number
}

const levelAt = ({ top, height }: Plot, stops: number) =>
  top + height * (1 - (stops - leastStops) / (mostStops - leastStops))

function levelAxis(plot: Plot, colours: ScopeColours): void {
  const { context, left, width } = plot
  context.strokeStyle = colours.line
  context.fillStyle = colours.text
  context.font = '10px "Inter Variable", sans-serif'
  context.textAlign = 'right'
  for (let stops = -8; stops <= mostStops; stops += 2) {
    const y = Math.round(levelAt(plot, stops)) + 0.5
    context.globalAlpha = stops === 0 ? 1 : 0.45
    context.beginPath()
    context.moveTo(left, y)
    context.lineTo(left + width, y)
    context.stroke()
    context.globalAlpha = 1
    context.fillText(stops === 0 ? '0.18' : `${stops > 0 ? '+' : ''}${stops}`, left - 4, y + 3)
  }
}

function band(plot: Plot, trace: Float32Array, colour: string, line: boolean): void {
  const { context, left, width } = plot
  const columns = trace.length / 3
  const x = (i: number) => left + ((i + 0.5) / columns) * width
  const path = (share: number) => {
    let open = false
    for (let i = 0; i < columns; i++) {
      const stops = trace[i * 3 + share]
      if (Number.isNaN(stops)) open = false
      else if (open) context.lineTo(x(i), levelAt(plot, stops))
      else {
        context.moveTo(x(i), levelAt(plot, stops))
        open = true
      }
    }
  }
  context.strokeStyle = colour
  context.fillStyle = colour
  if (!line) {
    const edge = (i: number) => Math.round(left + (i / columns) * width)
    context.globalAlpha = 0.4
    for (let i = 0; i < columns; i++) {
      const [low, high] = [trace[i * 3], trace[i * 3 + 2]]
      if (Number.isNaN(low)) continue
      const upper = levelAt(plot, high)
      // Whole columns one by one: as one path they take several times as long.
      context.fillRect(edge(i), upper, Math.max(1, edge(i + 1) - edge(i)), Math.max(1, levelAt(plot, low) - upper))
    }
  }
  context.globalAlpha = line ? 0.9 : 1
  context.beginPath()
  path(1)
  context.stroke()
  context.globalAlpha = 1
}

function histogram(plot: Plot, shares: Float32Array, colour: string, most: number): void {
  const { context, left, width, top, height } = plot
  context.strokeStyle = colour
  context.beginPath()
  shares.forEach((share, i) => {
    const [x, y] = [left + ((i + 0.5) / shares.length) * width, top + height * (1 - Math.sqrt(share / most))]
    if (i === 0) context.moveTo(x, y)
    else context.lineTo(x, y)
  })
  context.stroke()
}

function histogramAxis({ context, left, width, top, height }: Plot, colours: ScopeColours): void {
  context.fillStyle = colours.text
  context.strokeStyle = colours.line
  context.font = '10px "Inter Variable", sans-serif'
  context.textAlign = 'center'
  for (let stops = -8; stops <= mostStops; stops += 2) {
    const x = Math.round(left + (width * (stops - leastStops)) / (mostStops - leastStops)) + 0.5
    context.globalAlpha = stops === 0 ? 1 : 0.45
    context.beginPath()
    context.moveTo(x, top)
    context.lineTo(x, top + height)
    context.stroke()
    context.globalAlpha = 1
    context.fillText(stops === 0 ? '0.18' : `${stops > 0 ? '+' : ''}${stops}`, x, top + height + 11)
  }
}

/** Shares of pixels as a picture in one tone, a cell a pixel: many small rectangles would take longer than counting. */
function tinted(shares: Float32Array, colour: string, strength: number): HTMLCanvasElement {
  const size = Math.sqrt(shares.length)
  const canvas = Object.assign(document.createElement('canvas'), { width: size, height: size })
  const context = canvas.getContext('2d')
  if (!context) return canvas
  const mask = new ImageData(size, size)
  shares.forEach((share, i) => {
    if (share > 0) mask.data[i * 4 + 3] = Math.round(255 * strength * Math.min(1, 0.25 + 40 * share))
  })
  context.putImageData(mask, 0, 0)
  context.globalCompositeOperation = 'source-in'
  context.fillStyle = colour
  context.fillRect(0, 0, size, size)
  return canvas
}

/** Points of colour, each layer in its tone; where many pixels lie they are brighter. */
function plane({ context, left, top, height, width }: Plot, answer: DrawnScope, colours: ScopeColours): void {
  const middle = left + width / 2
  const side = height
  context.strokeStyle = colours.line
  context.beginPath()
  context.moveTo(middle - side / 2, top + side / 2)
  context.lineTo(middle + side / 2, top + side / 2)
  context.moveTo(middle, top)
  context.lineTo(middle, top + side)
  context.stroke()
  context.fillStyle = colours.text
  context.font = '10px "Inter Variable", sans-serif'
  context.textAlign = 'left'
  context.fillText('bluer', middle + side / 2 + 4, top + side / 2 + 3)
  context.fillText('redder', middle + 4, top + 9)
  // The composite is made of both others and would cover them: it lies under them, faint.
  const order: readonly LayerName[] = ['composite', 'plate', 'element']
  for (const { name, traces } of order.flatMap((one) => answer.layers.filter((layer) => layer.name === one))) {
    context.drawImage(
      tinted(traces[0], colours[name], name === 'composite' ? 0.3 : 1),
      middle - side / 2,
      top,
      side,
      side,
    )
  }
}

/**
 * @param across where the picture lies, in the canvas's pixels: a waveform's columns are the picture's
 */
export function drawScope(
  canvas: HTMLCanvasElement,
  answer: DrawnScope,
  across: { readonly left: number; readonly width: number },
  colours: ScopeColours,
): void {
  const context = canvas.getContext('2d')
  if (!context) return
  const { width, height } = canvas
  context.clearRect(0, 0, width, height)
  context.lineWidth = 1
  const plot: Plot = {
    context,
    left: padding.left,
    width: width - padding.left - 8,
    top: padding.top,
    height: height - padding.top - padding.bottom,
  }
  const order: readonly LayerName[] = ['plate', 'element', 'composite']
  const layers = order.flatMap((name) => answer.layers.filter((layer) => layer.name === name))
  if (answer.kind === 'waveform') {
    const under = { ...plot, ...across }
    levelAxis({ ...under, left: Math.max(padding.left, under.left) }, colours)
    for (const { name, traces } of layers) band(under, traces[0], colours[name], name === 'composite')
  } else if (answer.kind === 'parade') {
    levelAxis(plot, colours)
    const third = plot.width / 3
    for (const { name, traces } of layers)
      traces.forEach((trace, c) =>
        band({ ...plot, left: plot.left + c * third, width: third - 10 }, trace, colours[name], name === 'composite'),
      )
  } else if (answer.kind === 'histogram') {
    histogramAxis(plot, colours)
    const third = plot.height / 3
    const most = Math.max(1e-6, ...layers.flatMap(({ traces }) => traces.flatMap((trace) => Math.max(...trace))))
    for (const { name, traces } of layers)
      traces.forEach((trace, c) =>
        histogram({ ...plot, top: plot.top + c * third, height: third - 3 }, trace, colours[name], most),
      )
  } else plane(plot, { ...answer, layers }, colours)
}
