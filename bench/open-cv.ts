/** What the bench uses of opencv-js, which does the same as some of ours. */

import { createRequire } from 'node:module'

export interface Matrix {
  readonly data32F: Float32Array
  readonly data: Uint8Array
  delete(): void
}

export interface OpenCv {
  Mat: new (height?: number, width?: number, type?: number) => Matrix
  Size: new (width: number, height: number) => object
  TermCriteria: new (type: number, count: number, epsilon: number) => object
  readonly CV_32FC1: number
  readonly CV_32FC2: number
  readonly CV_32FC4: number
  readonly CV_8UC1: number
  readonly INTER_CUBIC: number
  remap(from: Matrix, to: Matrix, x: Matrix, y: Matrix, how: number): void
  GaussianBlur(from: Matrix, to: Matrix, size: object, sigma: number): void
  calcOpticalFlowPyrLK(
    first: Matrix,
    second: Matrix,
    points: Matrix,
    next: Matrix,
    status: Matrix,
    error: Matrix,
    size: object,
    levels: number,
    criteria: object,
  ): void
  onRuntimeInitialized?: () => void
}

/** In a case of its own: it has a method `then`, for which a promise of it would wait for ever. */
export async function openCv(): Promise<{ readonly cv: OpenCv }> {
  const cv = createRequire(import.meta.url)('@techstark/opencv-js') as OpenCv & { Mat?: unknown }
  if (!cv.Mat) await new Promise<void>((done) => (cv.onRuntimeInitialized = done))
  return { cv }
}
