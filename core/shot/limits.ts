/** How large and how many things may be: an edit beyond is refused, a document beyond is opened with a problem. */

import { blends } from '../set/blends'
import {
  elementDescription,
  inputDescriptions,
  limitDescription,
  matteDescriptions,
  placingDescription,
  shapeDescription,
  shutterDescription,
} from '../set/owners'
import { treatments } from '../treatments'
import { allOf } from './find'
import { beyondPoints, beyondRange } from './parameters'
import type { Element, Matte, Shape, Shot, Source, TreatmentSettings, Use } from './types'

export const mostFrames = 100_000
export const mostPixelsASide = 65_536
export const mostElements = 2_000
export const mostKeyframes = 10_000
export const mostSamples = 200
export const mostMarkers = 2_000
/** Of a marker, and points of each. */
export const mostStrokes = 200
export const mostStrokePoints = 1_000
/** Of a lens, and places on each. */
export const mostLines = 300
export const mostWitnesses = 200
export const mostReferenceObjects = 20
export const mostTracks = 500
export const mostMattes = 500
/** Of a matte, and points of each. */
export const mostShapes = 200
export const mostShapePoints = 500
/** Of a painted matte, and points of each. */
export const mostPaintStrokes = 1_000
export const mostBrushRadius = 1_000
/** That a clean plate is joined from. */
export const mostRecipeFrames = 500
/** Of a matte by ids. */
export const mostObjects = 500
/** Of a combined matte. */
export const mostMatteParts = 50
export const mostTreatmentTries = 100
export const mostFrameNumber = 100_000_000
const mostSpeed = 1_000
const [leastAspect, mostAspect] = [0.1, 10]

const frameNumber = (what: string, value: number | undefined) =>
  value !== undefined && Math.abs(value) > mostFrameNumber
    ? [`${what} is ${value}; frame numbers go from -${mostFrameNumber} to ${mostFrameNumber}`]
    : []

function ofRange(what: string, range: { readonly first: number; readonly last: number }): string[] {
  const count = range.last - range.first + 1
  if (count > mostFrames) return [`${what} has ${count} frames; at most ${mostFrames} are possible`]
  return [
    ...frameNumber(`the first frame of ${what}`, range.first),
    ...frameNumber(`the last frame of ${what}`, range.last),
  ]
}

function ofAspect(what: string, aspect: number): string[] {
  return aspect >= leastAspect && aspect <= mostAspect
    ? []
    : [`the pixel aspect of ${what} is ${aspect}; it must be from ${leastAspect} to ${mostAspect}`]
}

export function limitsOfHead({ frames, frameSize, pixelAspect, elements }: Shot): string[] {
  const { width, height } = frameSize
  const count = Object.keys(elements.byId).length
  return [
    ...ofRange('the shot', frames),
    ...(Math.max(width, height) > mostPixelsASide
      ? [`the frame is ${width} x ${height}; at most ${mostPixelsASide} pixels a side are possible`]
      : []),
    ...ofAspect('the shot', pixelAspect),
    ...(count > mostElements ? [`the shot has ${count} elements; at most ${mostElements} are possible`] : []),
  ]
}

export function limitsOfSource({ name, path, frames, offset, pixelAspect }: Source): string[] {
  const slash = path.lastIndexOf('/')
  return [
    ...(frames && !path.slice(slash + 1).includes('#')
      ? [`${name} has a range of frames but no # in its file name for their numbers`]
      : []),
    ...(path.slice(0, slash + 1).includes('#')
      ? [`${name} has # in the name of a folder; only file names have frames`]
      : []),
    ...(frames ? ofRange(name, frames) : []),
    ...frameNumber(`the offset of ${name}`, offset),
    ...(pixelAspect === undefined ? [] : ofAspect(name, pixelAspect)),
  ]
}

function ofCurves(name: string, parameters: TreatmentSettings['parameters']): string[] {
  const many = Object.values(parameters)
    .flat()
    .map((curve) => (typeof curve === 'number' ? 0 : Object.keys(curve.keyframes).length))
    .find((count) => count > mostKeyframes)
  return many === undefined ? [] : [`a curve of ${name} has ${many} keyframes; at most ${mostKeyframes} are possible`]
}

export function limitsOfElement(element: Element): string[] {
  const { name, blend, parameters, placing } = element
  const inputs = allOf(element.inputs)
  return [
    ...(placing ? beyondRange(placingDescription, placing.parameters) : []),
    ...(placing ? ofCurves(name, placing.parameters) : []),
    ...beyondRange(elementDescription, parameters),
    ...beyondRange(blends[blend.kind], blend.parameters),
    ...inputs.flatMap((input) => beyondRange(inputDescriptions[input.kind], input.parameters)),
    ...inputs.flatMap((input) => ('points' in input ? beyondPoints(inputDescriptions[input.kind], input.points) : [])),
    ...ofCurves(name, blend.parameters),
    ...inputs.flatMap((input) => {
      const timing = input.kind === 'pass' || input.kind === 'element' ? input.timing : undefined
      return [
        ...frameNumber(`the offset of ${name}`, timing?.offset),
        ...frameNumber(`the held frame of ${name}`, timing?.held),
        ...frameNumber(`the first frame of ${name}`, timing?.from),
        ...frameNumber(`the last frame of ${name}`, timing?.to),
        ...(timing?.speed === 0 ? [`the speed of ${name} is 0, which shows nothing new; hold one frame instead`] : []),
        ...(timing?.from !== undefined && timing.to !== undefined && timing.from > timing.to
          ? [`${name} would end at ${timing.to}, before it begins at ${timing.from}`]
          : []),
        ...(Math.abs(timing?.speed ?? 1) > mostSpeed
          ? [`the speed of ${name} is ${timing?.speed}; it must be from -${mostSpeed} to ${mostSpeed}`]
          : []),
      ]
    }),
  ]
}

export function limitsOfTreatment({ kind, parameters, points }: TreatmentSettings): string[] {
  return [
    ...beyondRange(treatments[kind], parameters),
    ...beyondPoints(treatments[kind], points),
    ...ofCurves(treatments[kind].label, parameters),
  ]
}

export function limitsOfUse({ limit }: Use): string[] {
  return limit ? beyondRange(limitDescription, limit.parameters) : []
}

export function limitsOfShape({ name, parameters, from, to, keyframes }: Shape): string[] {
  const many = Object.keys(keyframes).length
  return [
    ...beyondRange(shapeDescription, parameters),
    ...ofCurves(name, parameters),
    ...(many > mostKeyframes ? [`${name} has ${many} keyframes; at most ${mostKeyframes} are possible`] : []),
    ...(from !== undefined && to !== undefined && from > to
      ? [`${name} would end at ${to}, before it begins at ${from}`]
      : []),
  ]
}

export function limitsOfMatte(matte: Matte): string[] {
  return [
    ...beyondRange(matteDescriptions[matte.kind], matte.parameters),
    ...ofCurves(matte.name, matte.parameters),
    ...(matte.kind === 'drawn' ? allOf(matte.shapes).flatMap(limitsOfShape) : []),
  ]
}

/** Everything in the document that is beyond a limit, in sentences. */
export function beyondLimits(shot: Shot): string[] {
  return [
    ...limitsOfHead(shot),
    ...beyondRange(shutterDescription, shot.shutter.parameters),
    ...allOf(shot.sources).flatMap(limitsOfSource),
    ...allOf(shot.elements).flatMap(limitsOfElement),
    ...allOf(shot.treatments).flatMap(limitsOfTreatment),
    ...allOf(shot.uses).flatMap(limitsOfUse),
    ...allOf(shot.mattes).flatMap(limitsOfMatte),
  ]
}
