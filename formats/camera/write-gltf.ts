/** Writes a camera, with points and planes of its scene, as one glTF 2.0 file. */

import { Document, Primitive, WebIO, type Accessor } from '@gltf-transform/core'
import { AnimationPointer } from './animation-pointer'
import type { CameraPose, FileTiming, ScenePlane, ScenePoint } from './gltf'

export interface CameraToWrite {
  readonly name: string
  /** width over height of what it sees */
  readonly aspect: number
  /** in order of their frames; one alone stands still. The offset is that of the first: glTF keeps no other. */
  readonly poses: readonly (CameraPose & { readonly frame: number })[]
  readonly timing: FileTiming
  readonly points?: readonly ScenePoint[]
  readonly planes?: readonly ScenePlane[]
}

/** @returns the text of a .gltf file that names no other file */
export async function writeCamera(written: CameraToWrite): Promise<string> {
  const { name, aspect, poses, timing, points = [], planes = [] } = written
  const document = new Document()
  const buffer = document.createBuffer()
  const floats = (type: 'SCALAR' | 'VEC3' | 'VEC4', values: readonly number[]): Accessor =>
    document.createAccessor().setType(type).setArray(Float32Array.from(values)).setBuffer(buffer)
  const [first] = poses
  const camera = document
    .createCamera(name)
    .setType('perspective')
    .setYFov(first.height)
    .setAspectRatio(aspect)
    .setZNear(0.01)
  const offset = first.offset
  if (offset[0] !== 0 || offset[1] !== 0) camera.setExtras({ filmBackOffset: [...offset] })
  const node = document
    .createNode(name)
    .setCamera(camera)
    .setTranslation([...first.place])
    .setRotation([...first.turn])
  const scene = document
    .createScene(name)
    .addChild(node)
    .setExtras({ ...timing })
  document.getRoot().setDefaultScene(scene)

  const times = poses.map(({ frame }) => (frame - timing.firstFrame) / timing.framesPerSecond)
  const animation = poses.length > 1 ? document.createAnimation(name) : null
  const moving = (type: 'SCALAR' | 'VEC3' | 'VEC4', values: readonly (readonly number[])[]) => {
    if (!animation || values.every((value) => value.every((part, c) => part === values[0][c]))) return null
    const sampler = document
      .createAnimationSampler()
      .setInput(floats('SCALAR', times))
      .setOutput(floats(type, values.flat()))
    const channel = document.createAnimationChannel().setSampler(sampler)
    animation.addSampler(sampler).addChannel(channel)
    return channel
  }
  moving(
    'VEC3',
    poses.map(({ place }) => place),
  )
    ?.setTargetNode(node)
    .setTargetPath('translation')
  moving('VEC4', sameWay(poses.map(({ turn }) => turn)))
    ?.setTargetNode(node)
    .setTargetPath('rotation')
  const zoom = moving(
    'SCALAR',
    poses.map(({ height }) => [height]),
  )
  if (zoom) document.createExtension(AnimationPointer).heights.set(zoom, camera)

  const shape = (
    shapeName: string,
    mode: 'POINTS' | 'TRIANGLES',
    places: readonly (readonly number[])[],
    order?: readonly number[],
  ) => {
    const primitive = document
      .createPrimitive()
      .setMode(Primitive.Mode[mode])
      .setAttribute('POSITION', floats('VEC3', places.flat()))
    if (order)
      primitive.setIndices(
        document.createAccessor().setType('SCALAR').setArray(Uint16Array.from(order)).setBuffer(buffer),
      )
    scene.addChild(document.createNode(shapeName).setMesh(document.createMesh(shapeName).addPrimitive(primitive)))
  }
  if (points.length > 0)
    shape(
      'point',
      'POINTS',
      points.map(({ place }) => place),
    )
  for (const plane of planes) shape(plane.name, 'TRIANGLES', plane.corners, [0, 1, 2, 0, 2, 3])

  const { json, resources } = await new WebIO().registerExtensions([AnimationPointer]).writeJSON(document)
  for (const one of json.buffers ?? []) {
    const bytes = one.uri === undefined ? undefined : resources[one.uri]
    if (bytes) one.uri = `data:application/octet-stream;base64,${base64(bytes)}`
  }
  return `${JSON.stringify(json, null, 2)}\n`
}

/** A turn and its negative are the same: neighbours are written with one sign, so that nothing spins between them. */
function sameWay(turns: readonly CameraPose['turn'][]): readonly (readonly number[])[] {
  let before: readonly number[] = turns[0]
  return turns.map((turn) => {
    const sign = turn.reduce((sum, value, i) => sum + value * before[i], 0) < 0 ? -1 : 1
    return (before = turn.map((value) => value * sign))
  })
}

function base64(bytes: Uint8Array): string {
  let text = ''
  for (const byte of bytes) text += String.fromCharCode(byte)
  return btoa(text)
}
