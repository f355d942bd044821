/** Cameras in glTF 2.0 files: what a solve or a 3D scene hands over. */

import { Primitive, WebIO, type Camera, type Document, type Node } from '@gltf-transform/core'
import { coursesOf, type Courses, type Path } from './courses'
import { AnimationPointer } from './animation-pointer'
import { matrixOf, multiplied, rectangleOf, through, turnOf, unmoved, type Matrix4 } from './matrices'

/** The file is no glTF that can be read, or has no camera in it. */
export class UnusableCameraError extends Error {
  override readonly name = 'UnusableCameraError'
}

export interface CameraSays {
  readonly name: string
  /** height of what it sees as an angle, in degrees; null for one without perspective */
  readonly heightDegrees: number | null
  /** it, some node that carries it, or what it sees moves or changes */
  readonly moves: boolean
}

type Vector3 = readonly [x: number, y: number, z: number]

/** Where a camera stands and how much it sees at a moment. Metres; y up; it looks along its own -z. */
export interface CameraPose {
  readonly place: Vector3
  /** a unit quaternion (x, y, z, w) from the camera to the scene */
  readonly turn: readonly [number, number, number, number]
  /** height of what it sees as an angle, in radians */
  readonly height: number
  /** of the optical axis from the middle of the picture, to the right and down, in heights of the picture */
  readonly offset: readonly [number, number]
}

export interface FileCamera extends CameraSays {
  /** seconds of its first and its last key; null for one that stands still */
  readonly keys: readonly [number, number] | null
  /** null for one without perspective */
  readonly poseAt: ((seconds: number) => CameraPose) | null
}

export interface ScenePoint {
  readonly name: string
  readonly place: Vector3
}

/** A flat rectangle of the scene: its corners, around it. */
export interface ScenePlane {
  readonly name: string
  readonly corners: readonly [Vector3, Vector3, Vector3, Vector3]
}

/** The frames that a file's seconds stand for. */
export interface FileTiming {
  /** the frame at 0 seconds */
  readonly firstFrame: number
  readonly framesPerSecond: number
}

export interface CameraFile {
  readonly cameras: readonly FileCamera[]
  readonly points: readonly ScenePoint[]
  readonly planes: readonly ScenePlane[]
  /** null where the file does not say */
  readonly timing: FileTiming | null
}

/**
 * Film-back offset and frame numbers have no place in glTF 2.0. They are read and written as extras: `filmBackOffset` of a camera (as
 * {@link CameraPose.offset}), `firstFrame` and `framesPerSecond` of the scene.
 *
 * @param name of the file, for sentences
 * @param fetchFile brings a file that this one names, relative to it; GLB files name none
 * @returns every camera of the file that stands in a scene, with its points (POINTS) and its flat rectangles (four places in two triangles)
 * @throws UnusableCameraError; what `fetchFile` throws
 */
export async function readCameras(
  bytes: Uint8Array<ArrayBuffer>,
  name: string,
  fetchFile: (uri: string) => Promise<Uint8Array<ArrayBuffer>>,
): Promise<CameraFile> {
  const root = (await read(bytes, name, fetchFile)).getRoot()
  const courses = coursesOf(root)
  const cameras = new Map<Camera, FileCamera>()
  const shapes: { points: ScenePoint[]; planes: ScenePlane[] } = { points: [], planes: [] }
  for (const node of root.listNodes()) {
    const camera = node.getCamera()
    if (camera) cameras.set(camera, fileCamera(camera, node, courses))
    addShapes(shapes, node)
  }
  if (cameras.size === 0)
    throw new UnusableCameraError(
      `${name} has no camera that stands in its scene. Export it again with the camera selected.`,
    )
  const scene = root.getDefaultScene() ?? root.listScenes().at(0)
  return { cameras: [...cameras.values()], ...shapes, timing: timingOf(scene?.getExtras() ?? {}) }
}

function timingOf({ firstFrame, framesPerSecond }: Record<string, unknown>): FileTiming | null {
  if (typeof firstFrame !== 'number' || !Number.isInteger(firstFrame)) return null
  return typeof framesPerSecond === 'number' && framesPerSecond > 0 ? { firstFrame, framesPerSecond } : null
}

function fileCamera(camera: Camera, node: Node, courses: Courses): FileCamera {
  const name = camera.getName() || node.getName() || 'camera'
  const carriers: Node[] = []
  for (let at: Node | null = node; at; at = at.getParentNode()) carriers.push(at)
  const own = [...carriers.flatMap((one) => [...(courses.nodes.get(one)?.values() ?? [])]), courses.heights.get(camera)]
  const moving = own.filter((course) => course !== undefined)
  const keys =
    moving.length === 0
      ? null
      : ([Math.min(...moving.map(({ first }) => first)), Math.max(...moving.map(({ last }) => last))] as const)
  if (camera.getType() !== 'perspective')
    return { name, heightDegrees: null, moves: moving.length > 0, keys, poseAt: null }
  const offset = offsetOf(camera.getExtras())
  const heightAt = courses.heights.get(camera)
  const poseAt = (seconds: number): CameraPose => ({
    ...placedAt(carriers, courses, seconds),
    height: heightAt ? heightAt.at(seconds)[0] : camera.getYFov(),
    offset,
  })
  return { name, heightDegrees: (camera.getYFov() * 180) / Math.PI, moves: moving.length > 0, keys, poseAt }
}

function offsetOf({ filmBackOffset: offset }: Record<string, unknown>): readonly [number, number] {
  const isPair = Array.isArray(offset) && offset.length === 2 && offset.every((value) => Number.isFinite(value))
  return isPair ? [Number(offset[0]), Number(offset[1])] : [0, 0]
}

/** Place and turn of the first of the nodes, each carried by the next; how large its carriers make it does not change what it sees. */
function placedAt(carriers: readonly Node[], courses: Courses, seconds: number): Pick<CameraPose, 'place' | 'turn'> {
  const world = carriers.reduceRight<Matrix4>(
    (outer, node) => multiplied(outer, localAt(node, courses, seconds)),
    unmoved,
  )
  return { place: [world[12], world[13], world[14]], turn: turnOf(world) }
}

function localAt(node: Node, courses: Courses, seconds: number): Matrix4 {
  const own = courses.nodes.get(node)
  const now = (path: Path, rest: readonly number[]) => own?.get(path)?.at(seconds) ?? rest
  return matrixOf(
    now('translation', node.getTranslation()),
    now('rotation', node.getRotation()),
    now('scale', node.getScale()),
  )
}

/** Points and flat rectangles of a node, where it stands at rest. */
function addShapes(found: { points: ScenePoint[]; planes: ScenePlane[] }, node: Node): void {
  const world = node.getWorldMatrix()
  for (const primitive of node.getMesh()?.listPrimitives() ?? []) {
    const position = primitive.getAttribute('POSITION')
    if (!position) continue
    const places = Array.from({ length: position.getCount() }, (_, i) => through(world, position.getElement(i, [])))
    const name = node.getName() || node.getMesh()?.getName() || ''
    if (primitive.getMode() === Primitive.Mode.POINTS)
      for (const place of places) found.points.push({ name: `${name || 'point'} ${found.points.length + 1}`, place })
    else if (primitive.getMode() === Primitive.Mode.TRIANGLES) {
      const corners = rectangleOf(places)
      if (corners) found.planes.push({ name: name || `plane ${found.planes.length + 1}`, corners })
    }
  }
}

const binaryMark = 0x46546c67

async function read(
  bytes: Uint8Array<ArrayBuffer>,
  name: string,
  fetchFile: (uri: string) => Promise<Uint8Array<ArrayBuffer>>,
): Promise<Document> {
  const unusable = (why: string) =>
    new UnusableCameraError(`${name} is no glTF 2.0 that can be read (${why}). Export it again, as .glb or .gltf.`)
  if (bytes.length === 0) throw unusable('it is empty')
  const io = new WebIO().registerExtensions([AnimationPointer])
  const isBinary = bytes.length >= 4 && new DataView(bytes.buffer, bytes.byteOffset).getUint32(0, true) === binaryMark
  try {
    if (isBinary) return await io.readBinary(bytes)
  } catch (error) {
    throw unusable(error instanceof Error ? error.message : String(error))
  }
  const json = parsed(bytes, unusable)
  const resources: Record<string, Uint8Array<ArrayBuffer>> = {}
  for (const { uri } of json.buffers ?? []) if (uri && !uri.startsWith('data:')) resources[uri] = await fetchFile(uri)
  try {
    // Pictures are of no interest here, and may be missing.
    const bare = { ...json, images: [], textures: [], materials: [], meshes: json.meshes?.map(withoutLook) }
    return await io.readJSON({ json: bare, resources })
  } catch (error) {
    throw unusable(error instanceof Error ? error.message : String(error))
  }
}

/** A mesh without its materials, and without what is packed in ways of its own. */
function withoutLook(mesh: Mesh): Mesh {
  const plain = mesh.primitives.filter(({ extensions }) => !extensions)
  return {
    ...mesh,
    primitives: plain.map(({ attributes: { POSITION }, indices, mode }) => ({
      attributes: { POSITION },
      indices,
      mode,
    })),
  }
}

type Mesh = NonNullable<Json['meshes']>[number]
type Json = Parameters<WebIO['readJSON']>[0]['json']

function parsed(bytes: Uint8Array, unusable: (why: string) => Error): Json {
  let json: Partial<Json>
  try {
    json = JSON.parse(new TextDecoder().decode(bytes)) as Partial<Json>
  } catch (error) {
    throw unusable(error instanceof Error ? error.message : String(error))
  }
  if (json.asset?.version !== '2.0') throw unusable(`its version is ${json.asset?.version ?? 'not said'}`)
  return json as Json
}
