/** Cameras in glTF 2.0 files: what a solve or a 3D scene hands over. */

import { WebIO, type Camera, type Document } from '@gltf-transform/core'

/** The file is no glTF that can be read, or has no camera in it. */
export class UnusableCameraError extends Error {
  override readonly name = 'UnusableCameraError'
}

export interface CameraSays {
  readonly name: string
  /** height of what it sees as an angle, in degrees; null for one without perspective */
  readonly heightDegrees: number | null
  /** some node that carries it, or carries that one, moves */
  readonly moves: boolean
}

/**
 * @param name of the file, for sentences
 * @param fetchFile brings a file that this one names, relative to it; GLB files name none
 * @returns every camera of the file that stands in a scene
 * @throws UnusableCameraError; what `fetchFile` throws
 */
export async function readGltfCameras(
  bytes: Uint8Array<ArrayBuffer>,
  name: string,
  fetchFile: (uri: string) => Promise<Uint8Array<ArrayBuffer>>,
): Promise<readonly CameraSays[]> {
  const document = await read(bytes, name, fetchFile)
  const moving = new Set(
    document
      .getRoot()
      .listAnimations()
      .flatMap((animation) => animation.listChannels().map((channel) => channel.getTargetNode())),
  )
  const found = new Map<Camera, CameraSays>()
  for (const node of document.getRoot().listNodes()) {
    const camera = node.getCamera()
    if (!camera) continue
    let moves = false
    for (let at: typeof node | null = node; at; at = at.getParentNode()) moves ||= moving.has(at)
    const perspective = camera.getType() === 'perspective'
    found.set(camera, {
      name: camera.getName() || node.getName() || 'camera',
      heightDegrees: perspective ? (camera.getYFov() * 180) / Math.PI : null,
      moves,
    })
  }
  if (found.size === 0)
    throw new UnusableCameraError(
      `${name} has no camera that stands in its scene. Export it again with the camera selected.`,
    )
  return [...found.values()]
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
  const io = new WebIO()
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
    // Pictures and meshes are of no interest here, and may be missing.
    return await io.readJSON({ json: { ...json, images: [], textures: [], materials: [], meshes: [] }, resources })
  } catch (error) {
    throw unusable(error instanceof Error ? error.message : String(error))
  }
}

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
