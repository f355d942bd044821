import { readGltfCameras, UnusableCameraError } from '.'

const nothing = () => Promise.reject(new Error('no other file is named'))

/** Two key times, 0 and 1 s, and two places: 2 + 6 floats. */
const floats = new Float32Array([0, 1, 0, 0, 0, 1, 2, 3])
const animated = {
  asset: { version: '2.0' },
  scenes: [{ nodes: [0] }],
  nodes: [
    { name: 'rig', children: [1] },
    { name: 'shot camera', camera: 0, mesh: 0 },
    { name: 'spare', camera: 1 },
  ],
  meshes: [{ primitives: [{ attributes: { POSITION: 2 }, material: 0 }] }],
  materials: [{ pbrMetallicRoughness: { baseColorTexture: { index: 0 } } }],
  textures: [{ source: 0 }],
  images: [{ uri: 'missing.png' }],
  cameras: [
    { type: 'perspective', name: 'A', perspective: { yfov: Math.PI / 6, znear: 0.1 } },
    { type: 'orthographic', orthographic: { xmag: 1, ymag: 1, znear: 0, zfar: 10 } },
  ],
  animations: [
    {
      samplers: [{ input: 0, output: 1 }],
      channels: [{ sampler: 0, target: { node: 0, path: 'translation' } }],
    },
  ],
  buffers: [{ uri: 'camera.bin', byteLength: 32 }],
  bufferViews: [{ buffer: 0, byteLength: 32 }],
  accessors: [
    { bufferView: 0, componentType: 5126, count: 2, type: 'SCALAR' },
    { bufferView: 0, byteOffset: 8, componentType: 5126, count: 2, type: 'VEC3' },
    { bufferView: 0, byteOffset: 8, componentType: 5126, count: 2, type: 'VEC3' },
  ],
}
const bytesOf = (json: object) => new TextEncoder().encode(JSON.stringify(json)) as Uint8Array<ArrayBuffer>
const buffer = (uri: string) =>
  uri === 'camera.bin' ? Promise.resolve(new Uint8Array(floats.buffer)) : Promise.reject(new Error(`${uri}?`))

/** GLB 2.0: a header of three words, then the chunk of JSON (glTF 2.0, section 4). */
function glb(json: object): Uint8Array<ArrayBuffer> {
  const text = JSON.stringify(json)
  const padded = new TextEncoder().encode(text.padEnd(Math.ceil(text.length / 4) * 4))
  const out = new Uint8Array(20 + padded.length)
  new Uint32Array(out.buffer).set([0x46546c67, 2, out.length, padded.length, 0x4e4f534a])
  out.set(padded, 20)
  return out
}
const still = {
  asset: { version: '2.0' },
  nodes: [{ camera: 0 }],
  cameras: [{ type: 'perspective', perspective: { yfov: 0.5, znear: 0.1 } }],
}

test('cameras with how much they see, and whether what carries them moves', async () => {
  expect(await readGltfCameras(bytesOf(animated), 'camera.gltf', buffer)).toEqual([
    { name: 'A', heightDegrees: expect.closeTo(30, 10) as number, moves: true },
    { name: 'spare', heightDegrees: null, moves: false },
  ])
})

test('a GLB file needs no other', async () => {
  const [camera] = await readGltfCameras(glb(still), 'camera.glb', nothing)
  expect(camera).toEqual({ name: 'camera', heightDegrees: expect.closeTo(28.6479, 3) as number, moves: false })
})

test.each([
  ['nothing in it', new Uint8Array(0), 'it is empty'],
  ['something else', bytesOf({ asset: { version: '1.0' } }), 'its version is 1.0'],
  ['no version', bytesOf({}), 'its version is not said'],
  ['a text', new TextEncoder().encode('v 0 0 0') as Uint8Array<ArrayBuffer>, 'JSON'],
  ['half a file', glb(still).slice(0, 40), 'camera.glb is no glTF 2.0 that can be read'],
])('a file with %s is refused by name', async (_, bytes, words) => {
  const refused = readGltfCameras(bytes, 'camera.glb', nothing)
  await expect(refused).rejects.toThrow(UnusableCameraError)
  await expect(refused).rejects.toThrow(words)
})

test('a file without a camera says so', async () => {
  const bytes = bytesOf({ asset: { version: '2.0' }, nodes: [{ name: 'empty' }] })
  await expect(readGltfCameras(bytes, 'scene.gltf', nothing)).rejects.toThrow('scene.gltf has no camera')
})
