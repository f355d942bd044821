import { readCameras, UnusableCameraError, writeCamera, type CameraPose } from '.'

const whatIsSaid = async (...given: Parameters<typeof readCameras>) =>
  (await readCameras(...given)).cameras.map(({ name, heightDegrees, moves }) => ({ name, heightDegrees, moves }))

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
  expect(await whatIsSaid(bytesOf(animated), 'camera.gltf', buffer)).toEqual([
    { name: 'A', heightDegrees: expect.closeTo(30, 10) as number, moves: true },
    { name: 'spare', heightDegrees: null, moves: false },
  ])
})

test('a GLB file needs no other', async () => {
  const [camera] = await whatIsSaid(glb(still), 'camera.glb', nothing)
  expect(camera).toEqual({ name: 'camera', heightDegrees: expect.closeTo(28.6479, 3) as number, moves: false })
})

test.each([
  ['nothing in it', new Uint8Array(0), 'it is empty'],
  ['something else', bytesOf({ asset: { version: '1.0' } }), 'its version is 1.0'],
  ['no version', bytesOf({}), 'its version is not said'],
  ['a text', new TextEncoder().encode('v 0 0 0') as Uint8Array<ArrayBuffer>, 'JSON'],
  ['half a file', glb(still).slice(0, 40), 'camera.glb is no glTF 2.0 that can be read'],
])('a file with %s is refused by name', async (_, bytes, words) => {
  const refused = whatIsSaid(bytes, 'camera.glb', nothing)
  await expect(refused).rejects.toThrow(UnusableCameraError)
  await expect(refused).rejects.toThrow(words)
})

test('a file without a camera says so', async () => {
  const bytes = bytesOf({ asset: { version: '2.0' }, nodes: [{ name: 'empty' }] })
  await expect(whatIsSaid(bytes, 'scene.gltf', nothing)).rejects.toThrow('scene.gltf has no camera')
})

describe('a camera that is written', () => {
  const pose = (i: number): CameraPose & { frame: number } => {
    const [half, tilt] = [0.1 + 0.2 * i, 0.3]
    return {
      frame: 1001 + i,
      place: [0.25 * i, 1.5, -i],
      turn: [
        Math.cos(half) * Math.sin(tilt),
        Math.sin(half) * Math.cos(tilt),
        -Math.sin(half) * Math.sin(tilt),
        Math.cos(half) * Math.cos(tilt),
      ],
      height: 0.5 - 0.02 * i,
      offset: [0.005, -0.003],
    }
  }
  const poses = [0, 1, 2].map(pose)
  const timing = { firstFrame: 1001, framesPerSecond: 24 }
  const plane = { name: 'stones', corners: [[0, 0, -4], [2, 0, -4], [2, 0, -7], [0, 0, -7]] } as const // prettier-ignore
  const points = [{ name: 'point 1', place: [1, 2, -3] }] as const
  const written = { name: 'shot camera', aspect: 16 / 9, poses, timing, points, planes: [plane] }
  const bytes = async (given: Parameters<typeof writeCamera>[0]) =>
    new TextEncoder().encode(await writeCamera(given)) as Uint8Array<ArrayBuffer>

  test('comes back with its moves, its zoom, its film-back offset, its points and planes', async () => {
    const file = await readCameras(await bytes(written), 'a.gltf', nothing)
    expect(file.timing).toEqual(timing)
    expect(file.points).toEqual(points)
    expect(file.planes).toEqual([plane])
    const [{ name, moves, keys, poseAt }] = file.cameras
    expect([name, moves, keys?.[0]]).toEqual(['shot camera', true, 0])
    poses.forEach((given, i) => {
      const found = poseAt?.(i / 24)
      const near = (values: readonly number[]) => values.map((value) => expect.closeTo(value, 6) as number)
      expect(found?.place).toEqual(near(given.place))
      expect(found?.turn).toEqual(near(given.turn))
      expect([found?.height, ...(found?.offset ?? [])]).toEqual(near([given.height, ...given.offset]))
    })
    // Half-way between two keys the place lies half-way, and the turn too: the tilt stays, the turn about the upright is the mean.
    const between = poseAt?.(0.5 / 24)
    expect(between?.place).toEqual([expect.closeTo(0.125, 6), expect.closeTo(1.5, 6), expect.closeTo(-0.5, 6)])
    expect(Math.hypot(...(between?.turn ?? []))).toBeCloseTo(1, 9)
    expect(poseAt?.(-1).place).toEqual(poseAt?.(0).place)
    expect(poseAt?.(9).place).toEqual(poseAt?.(keys?.[1] ?? 0).place)
  })

  test('says by the published extension that its focal length moves, and keeps every float where the standard wants it', async () => {
    const json = JSON.parse(await writeCamera(written)) as {
      extensionsUsed: string[]
      cameras: { perspective: { yfov: number; aspectRatio: number }; extras: object }[]
      animations: { channels: { sampler: number; target: object }[]; samplers: { output: number }[] }[]
      accessors: { bufferView: number; byteOffset?: number; count: number; type: string }[]
      bufferViews: { byteOffset?: number }[]
      buffers: { uri: string }[]
    }
    expect(json.extensionsUsed).toEqual(['KHR_animation_pointer'])
    expect(json.cameras[0].extras).toEqual({ filmBackOffset: [0.005, -0.003] })
    const zoom = json.animations[0].channels.find(({ target }) => 'extensions' in target)
    expect(zoom?.target).toEqual({
      path: 'pointer',
      extensions: { KHR_animation_pointer: { pointer: '/cameras/0/perspective/yfov' } },
    })
    const accessor = json.accessors[json.animations[0].samplers[zoom?.sampler ?? 0].output]
    const raw = Buffer.from(json.buffers[0].uri.split(',')[1], 'base64')
    const from = (json.bufferViews[accessor.bufferView].byteOffset ?? 0) + (accessor.byteOffset ?? 0)
    expect([0, 1, 2].map((i) => raw.readFloatLE(from + 4 * i))).toEqual(poses.map(({ height }) => Math.fround(height)))
  })

  test('a turn and its negative are one: neighbours are written with one sign', async () => {
    const turned = poses.map((one, i) =>
      i === 1 ? { ...one, turn: one.turn.map((v) => -v) as unknown as CameraPose['turn'] } : one,
    )
    const json = JSON.parse(await writeCamera({ ...written, poses: turned })) as {
      animations: { channels: { sampler: number; target: { path: string } }[]; samplers: { output: number }[] }[]
      accessors: { bufferView: number; byteOffset?: number }[]
      bufferViews: { byteOffset?: number }[]
      buffers: { uri: string }[]
    }
    const [{ channels, samplers }] = json.animations
    const turning = channels.find(({ target }) => target.path === 'rotation')
    const { bufferView, byteOffset = 0 } = json.accessors[samplers[turning?.sampler ?? 0].output]
    const raw = Buffer.from(json.buffers[0].uri.split(',')[1], 'base64')
    const key = (i: number) =>
      [0, 1, 2, 3].map((c) =>
        raw.readFloatLE((json.bufferViews[bufferView].byteOffset ?? 0) + byteOffset + 16 * i + 4 * c),
      )
    const dot = (a: number[], b: number[]) => a.reduce((sum, value, c) => sum + value * b[c], 0)
    expect(dot(key(0), key(1))).toBeGreaterThan(0.9)
    expect(dot(key(1), key(2))).toBeGreaterThan(0.9)
  })

  test('that stands still has no keys', async () => {
    const still = await readCameras(await bytes({ ...written, poses: [poses[0]] }), 'a.gltf', nothing)
    expect([still.cameras[0].moves, still.cameras[0].keys]).toEqual([false, null])
  })
})

test('a camera is carried by what carries it: the turn of its carrier first', async () => {
  // The rig is turned a quarter to the left about y, and enlarged; the camera stands 1 m in front of it.
  const json = {
    asset: { version: '2.0' },
    scene: 0,
    scenes: [{ nodes: [0] }],
    nodes: [
      { children: [1], rotation: [0, Math.SQRT1_2, 0, Math.SQRT1_2], translation: [10, 0, 0], scale: [2, 2, 2] },
      { camera: 0, translation: [0, 0, -1] },
    ],
    cameras: still.cameras,
  }
  const { cameras } = await readCameras(bytesOf(json), 'a.gltf', nothing)
  const pose = cameras[0].poseAt?.(0)
  expect(pose?.place).toEqual([expect.closeTo(8, 6), expect.closeTo(0, 6), expect.closeTo(0, 6)])
  expect(pose?.turn).toEqual([0, Math.SQRT1_2, 0, Math.SQRT1_2].map((v) => expect.closeTo(v, 6) as number))
})

test('four places that are no rectangle are no plane', async () => {
  const floatsOf = (...values: number[]) => Buffer.from(Float32Array.from(values).buffer).toString('base64')
  const file = (corners: number[]) =>
    bytesOf({
      ...still,
      nodes: [{ camera: 0 }, { mesh: 0, name: 'lid' }],
      meshes: [{ primitives: [{ attributes: { POSITION: 0 }, material: 3 }] }],
      accessors: [{ bufferView: 0, componentType: 5126, count: 4, type: 'VEC3' }],
      bufferViews: [{ buffer: 0, byteLength: 48 }],
      buffers: [{ byteLength: 48, uri: `data:application/octet-stream;base64,${floatsOf(...corners)}` }],
    })
  const planesOf = async (...corners: number[]) => (await readCameras(file(corners), 'a.gltf', nothing)).planes
  expect(await planesOf(0, 0, 0, 1, 0, 0, 0, 2, 0, 1, 2, 0)).toEqual([
    { name: 'lid', corners: [[0, 0, 0], [1, 0, 0], [1, 2, 0], [0, 2, 0]] }, // prettier-ignore
  ])
  expect(await planesOf(0, 0, 0, 1, 0, 0, 0, 2, 0, 1, 2, 1)).toEqual([])
  expect(await planesOf(0, 0, 0, 1, 0, 0, 0, 2, 0, 1.5, 2, 0)).toEqual([])
})

describe('between its keys a place goes as the file says', () => {
  /** Keys at 1 s and 3 s; for a spline each has the slope before, the value and the slope after. */
  const moving = (interpolation: string, values: readonly number[]) => {
    const floats = Float32Array.from([1, 3, ...values])
    return bytesOf({
      asset: { version: '2.0' },
      scenes: [{ nodes: [0] }],
      nodes: [{ camera: 0 }],
      cameras: still.cameras,
      animations: [
        {
          samplers: [{ input: 0, output: 1, interpolation }],
          channels: [{ sampler: 0, target: { node: 0, path: 'translation' } }],
        },
      ],
      accessors: [
        { bufferView: 0, componentType: 5126, count: 2, type: 'SCALAR' },
        { bufferView: 0, byteOffset: 8, componentType: 5126, count: values.length / 3, type: 'VEC3' },
      ],
      bufferViews: [{ buffer: 0, byteLength: floats.byteLength }],
      buffers: [
        {
          byteLength: floats.byteLength,
          uri: `data:application/octet-stream;base64,${Buffer.from(floats.buffer).toString('base64')}`,
        },
      ],
    })
  }
  const xAt = async (file: Uint8Array<ArrayBuffer>, ...seconds: number[]) => {
    const [{ poseAt, keys }] = (await readCameras(file, 'a.gltf', nothing)).cameras
    expect(keys).toEqual([1, 3])
    return seconds.map((at) => poseAt?.(at).place[0])
  }

  test('in a line, or in steps', async () => {
    expect(await xAt(moving('LINEAR', [2, 0, 0, 6, 0, 0]), 0, 1, 1.5, 3, 9)).toEqual([2, 2, 3, 6, 6])
    expect(await xAt(moving('STEP', [2, 0, 0, 6, 0, 0]), 1, 2.9, 3)).toEqual([2, 2, 6])
  })

  test('along a cubic with the slopes of its keys', async () => {
    // x = t^3 - t from t = 0 to t = 2: slopes -1 and 11, values 0 and 6, at 1 s and 3 s.
    const cubic = moving('CUBICSPLINE', [9, 0, 0, 0, 0, 0, -1, 0, 0, 11, 0, 0, 6, 0, 0, 9, 0, 0])
    const found = await xAt(cubic, 1, 1.5, 2, 2.75, 3)
    const wanted = [0, 0.5, 1, 1.75, 2].map((t) => t ** 3 - t)
    expect(found).toEqual(wanted.map((value) => expect.closeTo(value, 6) as number))
  })
})

test('points and planes stand where what carries them stands', async () => {
  const floats = Float32Array.from([0, 0, 0, 1, 0, 0, 1, 2, 0, 0, 2, 0])
  const json = {
    ...still,
    nodes: [{ camera: 0 }, { children: [2, 3], translation: [0, 0, -5] }, { mesh: 0 }, { mesh: 1, scale: [2, 2, 2] }],
    meshes: [
      { name: 'marks', primitives: [{ mode: 0, attributes: { POSITION: 0 } }] },
      { name: 'lid', primitives: [{ attributes: { POSITION: 0 } }] },
    ],
    accessors: [{ bufferView: 0, componentType: 5126, count: 4, type: 'VEC3' }],
    bufferViews: [{ buffer: 0, byteLength: 48 }],
    buffers: [
      {
        byteLength: 48,
        uri: `data:application/octet-stream;base64,${Buffer.from(floats.buffer).toString('base64')}`,
      },
    ],
  }
  const { points, planes } = await readCameras(bytesOf(json), 'a.gltf', nothing)
  expect(points[2]).toEqual({ name: 'marks 3', place: [1, 2, -5] })
  expect(planes).toEqual([{ name: 'lid', corners: [[0, 0, -5], [2, 0, -5], [2, 4, -5], [0, 4, -5]] }]) // prettier-ignore
})
