/** The files of a frame, as camera and render farm deliver them. */

import { join } from 'node:path'
import type { Frame } from './camera'
import { part, planesOf, writePicture } from './files'
import type { GroundPasses } from './ground-passes'
import { lightPasses, type GuestPasses } from './guest-passes'

export interface ShotPlace {
  /** its name, with which all of its files begin */
  readonly shot: string
  readonly frame: Frame
  readonly media: string
  readonly truth: string
}

/** What the render farm's lights are wrong by: the true light is the CG's times this. */
export const cgGain: readonly [number, number, number] = [1.3, 1.12, 0.96]

export type ShotFiles = ReturnType<typeof shotFiles>

export function shotFiles({ shot, frame, media, truth }: ShotPlace) {
  const display = { x: 0, y: 0, ...frame }
  const rgb = ['R', 'G', 'B']
  const name = (kind: string, number: number) => `${shot}_${kind}.${number}.exr`
  const picture = (path: string, values: Float32Array, channels: readonly string[], number: number) =>
    writePicture(path, [part(undefined, display, display, planesOf(values, channels, 'half'), number)])

  const cg = (path: string, guest: GuestPasses, ground: GroundPasses, number: number) => {
    // What is delivered was rendered with other lights: divide, then round each pass as a half, and sum the rounded passes.
    const passes = guest.light.map((values) => values.map((value, i) => value / cgGain[i % 3]))
    const beauty = new Float32Array(guest.alpha.length * 4)
    guest.alpha.forEach((a, i) => {
      for (let c = 0; c < 3; c++) beauty[i * 4 + c] = passes.reduce((sum, pass) => sum + pass[i * 3 + c], 0)
      beauty[i * 4 + 3] = a
    })
    const at = (kind: string, values: Float32Array, channels: string[], type: 'half' | 'float' = 'half') =>
      part(kind, guest.window, display, planesOf(values, channels, type), number)
    const onGround = (kind: string, values: Float32Array, channels: string[]) =>
      part(kind, ground.window, display, planesOf(values, channels, 'half'), number)
    return writePicture(path, [
      at('beauty', beauty, [...rgb, 'A']),
      ...lightPasses.map((kind, i) => at(kind, passes[i], rgb)),
      at('alpha', guest.alpha, ['Y']),
      at('depth', guest.depth, ['Z'], 'float'),
      at('normal', guest.normal, ['X', 'Y', 'Z']),
      at('facing', guest.facing, ['Y']),
      at('motion', guest.motion, ['X', 'Y'], 'float'),
      at(
        'id',
        guest.alpha.map((a) => (a > 0 ? 1 : 0)),
        ['Y'],
      ),
      onGround('shadow', ground.shadow, rgb),
      onGround('occlusion', ground.occlusion, ['Y']),
      onGround(
        'ground_reflection',
        ground.reflection.map((value, i) => value / cgGain[i % 3]),
        rgb,
      ),
    ])
  }

  return {
    truth: (values: Float32Array, number: number) => picture(join(truth, name('truth', number)), values, rgb, number),
    plate: (values: Float32Array, number: number) =>
      picture(join(media, 'plate', name('plate', number)), values, rgb, number),
    clean: (values: Float32Array, number: number) =>
      picture(join(media, 'clean', `${shot}_clean.exr`), values, rgb, number),
    front: (matte: Float32Array, number: number) =>
      picture(join(media, 'matte', name('front', number)), matte, ['Y'], number),
    bell: (guest: GuestPasses, ground: GroundPasses, number: number) =>
      cg(join(media, 'cg', name('bell', number)), guest, ground, number),
    referenceRender: (kind: string, guest: GuestPasses, ground: GroundPasses, number: number) =>
      cg(join(media, 'reference', name(`${kind}_cg`, number)), guest, ground, number),
    referencePlate: (kind: string, values: Float32Array, number: number) =>
      picture(join(media, 'reference', name(`${kind}_plate`, number)), values, rgb, number),
  }
}
