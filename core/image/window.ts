/** Windows: rectangles of pixels in frame coordinates, half open (`x <= px < x + width`), y downwards. */

export interface Window {
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
}

export const emptyWindow: Window = { x: 0, y: 0, width: 0, height: 0 }

export function isEmpty(window: Window): boolean {
  return window.width <= 0 || window.height <= 0
}

export function pixelCount(window: Window): number {
  return isEmpty(window) ? 0 : window.width * window.height
}

/** @returns what both windows cover; an empty window where they do not meet */
export function intersect(a: Window, b: Window): Window {
  const x = Math.max(a.x, b.x)
  const y = Math.max(a.y, b.y)
  const width = Math.min(a.x + a.width, b.x + b.width) - x
  const height = Math.min(a.y + a.height, b.y + b.height) - y
  return width > 0 && height > 0 ? { x, y, width, height } : emptyWindow
}

/** @returns the smallest window that holds both */
export function union(a: Window, b: Window): Window {
  if (isEmpty(a)) return b
  if (isEmpty(b)) return a
  const x = Math.min(a.x, b.x)
  const y = Math.min(a.y, b.y)
  return {
    x,
    y,
    width: Math.max(a.x + a.width, b.x + b.width) - x,
    height: Math.max(a.y + a.height, b.y + b.height) - y,
  }
}

/** Whether they have a pixel in common. */
export const overlap = (a: Window, b: Window): boolean => !isEmpty(intersect(a, b))

export function contains(outer: Window, inner: Window): boolean {
  return (
    isEmpty(inner) ||
    (inner.x >= outer.x &&
      inner.y >= outer.y &&
      inner.x + inner.width <= outer.x + outer.width &&
      inner.y + inner.height <= outer.y + outer.height)
  )
}

/** @returns the window that a picture reduced by `scale` covers: every reduced pixel that any source pixel falls into */
export function reduceWindow(window: Window, scale: number): Window {
  if (isEmpty(window)) return emptyWindow
  const x = Math.floor(window.x / scale)
  const y = Math.floor(window.y / scale)
  return {
    x,
    y,
    width: Math.ceil((window.x + window.width) / scale) - x,
    height: Math.ceil((window.y + window.height) / scale) - y,
  }
}

/** Splits a window into tiles of at most `tileWidth` x `tileHeight`, row by row. */
export function tilesOf(window: Window, tileWidth: number, tileHeight: number): Window[] {
  const tiles: Window[] = []
  for (let y = 0; y < window.height; y += tileHeight) {
    for (let x = 0; x < window.width; x += tileWidth) {
      tiles.push({
        x: window.x + x,
        y: window.y + y,
        width: Math.min(tileWidth, window.width - x),
        height: Math.min(tileHeight, window.height - y),
      })
    }
  }
  return tiles
}

/** @returns the window grown on both sides of each axis; an empty one stays empty */
export function dilate(window: Window, x: number, y: number): Window {
  if (isEmpty(window)) return emptyWindow
  return { x: window.x - x, y: window.y - y, width: window.width + 2 * x, height: window.height + 2 * y }
}
