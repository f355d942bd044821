/**
 * Objects of a render's file: ranked ids with coverage, as the open convention stores them (its attributes begin with `cryptomatte/`;
 * layers `<name>00`, `<name>01`, ... hold pairs of an id, the bits of a float, and coverage; the manifest is JSON of names and
 * hexadecimal ids, in the header or in a file beside it), and plain whole numbers in a channel called id.
 */

import type { FoundObject, ObjectPass } from '../../core/check'
import { halfTable } from '../../core/image/half'
import { idOf } from '../../core/image/object-ids'
import type { Plane, Planes } from '../../core/image/planes'
import { readExrHeader, type ByteSource, type ExrHeader } from '../../formats/exr'
import { formatOf, readPicture, type FileWindows } from './picture-files'

const attribute = /^cryptomatte\/([^/]+)\/(name|manifest|manif_file)$/
const plainName = /(^|[._ ])(object_?)?id$/i
const mostObjectsTold = 500
/** A pass whose ids are mostly unknown to its manifest has been filtered, or scaled. */
const mostUnknown = 0.2

export interface HowObjects {
  /** the text of a manifest that lies in a file beside this one */
  readonly manifestBeside?: (name: string) => Promise<string>
  /** the pixel of the file at which objects are asked for */
  readonly at?: (file: FileWindows) => readonly [x: number, y: number]
}

/** @throws what reading throws; a file that is no EXR has none */
export async function objectsInFile(source: ByteSource, how: HowObjects = {}): Promise<readonly ObjectPass[]> {
  if ((await formatOf(source)) !== 'exr') return []
  const header = await readExrHeader(source)
  const passes = [...(await rankedIn(header, how)), ...plainIn(header)]
  return Promise.all(passes.map((pass) => withObjects(source, pass, how)))
}

interface Pass {
  readonly name: string
  readonly ranked: boolean
  readonly layers: ObjectPass['layers']
  /** names by ids; null where there is no manifest */
  readonly manifest: ReadonlyMap<number, string> | null
  readonly why: string | null
}

async function rankedIn(header: ExrHeader, how: HowObjects): Promise<Pass[]> {
  const found = header.parts.flatMap((part) => {
    const keys = new Map<string, Record<string, string>>()
    for (const [name, { bytes }] of part.attributes) {
      const [, key, what] = attribute.exec(name) ?? []
      if (key !== undefined)
        keys.set(key, { ...keys.get(key), [what]: new TextDecoder().decode(bytes).replace(/\0+$/, '') })
    }
    return [...keys.values()].flatMap(({ name, manifest, manif_file: beside }) => {
      if (name === undefined) return []
      const layers = layersOf(
        part.channels.map((channel) => channel.name),
        name,
      )
      if (layers.length === 0) return []
      return [{ name, layers, manifest, beside }]
    })
  })
  return Promise.all(
    found.map(async ({ name, layers, manifest, beside }): Promise<Pass> => {
      const named = await namesOf(manifest, beside, how)
      return { name, ranked: true, layers, ...named }
    }),
  )
}

/** From the header itself, else from the file beside it that the header names. */
async function namesOf(
  own: string | undefined,
  beside: string | undefined,
  { manifestBeside }: HowObjects,
): Promise<Pick<Pass, 'manifest' | 'why'>> {
  const unnamed = 'so its objects have no names.'
  if (own !== undefined) return told(own, 'Its manifest')
  if (!beside) return { manifest: null, why: `It has no manifest, ${unnamed}` }
  try {
    if (!manifestBeside) throw new Error('files beside it are not read here.')
    return told(await manifestBeside(beside), `Its manifest ${beside}`)
  } catch (error) {
    const why = error instanceof Error ? error.message : String(error)
    return {
      manifest: null,
      why: `Its manifest lies in ${beside}, which cannot be read: ${why} Till then ${unnamed.slice(3)}`,
    }
  }

  function told(text: string, what: string) {
    const manifest = manifestOf(text)
    return { manifest, why: manifest ? null : `${what} is not JSON of names and ids, ${unnamed}` }
  }
}

/** Layers `<name>00`, `<name>01`, ..., each with its channels in the order red, green, blue, alpha. */
function layersOf(channels: readonly string[], name: string): ObjectPass['layers'] {
  const found = new Map<string, string[]>()
  for (const channel of channels) {
    const dot = channel.lastIndexOf('.')
    const layer = channel.slice(0, Math.max(0, dot))
    if (layer.startsWith(name) && /^\d\d$/.test(layer.slice(name.length)))
      found.set(layer, [...(found.get(layer) ?? []), channel.slice(dot + 1)])
  }
  const place = (channel: string) => 'rgba'.indexOf(channel.charAt(0).toLowerCase())
  return [...found]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([part, own]) => ({ part, channels: own.sort((a, b) => place(a) - place(b)) }))
    .filter((layer) => layer.channels.length % 2 === 0)
}

function manifestOf(text: string): ReadonlyMap<number, string> | null {
  try {
    const value: unknown = JSON.parse(text)
    if (typeof value !== 'object' || value === null || Array.isArray(value)) return null
    return new Map(
      Object.entries(value).flatMap(([name, hex]) =>
        typeof hex === 'string' && /^[0-9a-f]{1,8}$/i.test(hex) ? [[parseInt(hex, 16), name] as const] : [],
      ),
    )
  } catch {
    return null
  }
}

function plainIn(header: ExrHeader): Pass[] {
  return header.parts.flatMap((part) =>
    part.channels
      .filter(({ name }) => plainName.test(name))
      .map(({ name }): Pass => {
        const dot = name.lastIndexOf('.')
        const layer = dot < 0 ? part.name || null : name.slice(0, dot)
        const layers = [{ part: layer, channels: [name.slice(dot + 1)] }]
        return { name, ranked: false, layers, manifest: null, why: null }
      }),
  )
}

async function withObjects(
  source: ByteSource,
  { manifest, why, ...pass }: Pass,
  { at }: HowObjects,
): Promise<ObjectPass> {
  const [{ part, channels }] = pass.layers
  const picture = await readPicture(source, part, () => channels)
  const { planes } = picture
  const shares = sharesIn(planes, pass.ranked)
  const here = at ? coveragesAt(picture, pass.ranked, at(picture)) : new Map<number, number>()
  const nameOf = (id: number) => manifest?.get(id) ?? (pass.ranked ? id.toString(16).padStart(8, '0') : `object ${id}`)
  const seen = [...shares].map(([id, share]): FoundObject => {
    const there = here.get(id)
    return { name: nameOf(id), id, share, ...(there === undefined ? {} : { here: there }) }
  })
  const unseen = [...(manifest ?? [])].flatMap(([id, name]) => (shares.has(id) ? [] : [{ name, id, share: 0 }]))
  const objects = [...seen.sort((a, b) => b.share - a.share), ...unseen].slice(0, mostObjectsTold)
  const all = seen.reduce((sum, { share }) => sum + share, 0)
  const unknown = manifest ? seen.reduce((sum, { id, share }) => sum + (manifest.has(id) ? 0 : share), 0) : 0
  const filtered =
    pass.ranked && unknown > mostUnknown * all
      ? `${Math.round((100 * unknown) / all)} % of what it covers is in no object of its manifest: the pass was scaled, filtered or stored as half floats. Render it again without that.`
      : !pass.ranked && isFiltered(planes[0])
        ? 'Many of its ids are no whole numbers: the pass was scaled or filtered. Render it again without that.'
        : null
  return { ...pass, objects, odd: filtered ?? why }
}

/** Of the frame, how much each id covers; 0 is no object. */
function sharesIn(planes: readonly Plane[], ranked: boolean): Map<number, number> {
  const shares = new Map<number, number>()
  const at = ({ samples }: Plane, i: number) => (samples instanceof Uint16Array ? halfTable[samples[i]] : samples[i])
  const count = planes[0].samples.length
  for (let p = 0; p < planes.length; p += ranked ? 2 : 1)
    for (let i = 0; i < count; i++) {
      const id = idOf(at(planes[p], i), ranked)
      const share = ranked ? at(planes[p + 1], i) : 1
      if (id !== 0 && share > 0) shares.set(id, (shares.get(id) ?? 0) + share / count)
    }
  return shares
}

/** What each object covers of one pixel. */
function coveragesAt(
  { planes, dataWindow: { x: left, y: top, width, height } }: Planes,
  ranked: boolean,
  [x, y]: readonly [number, number],
): Map<number, number> {
  if (x < left || y < top || x >= left + width || y >= top + height) return new Map()
  const i = (y - top) * width + x - left
  return sharesIn(
    planes.map((plane) => ({ ...plane, samples: plane.samples.slice(i, i + 1) }) as Plane),
    ranked,
  )
}

function isFiltered({ samples }: Plane): boolean {
  let odd = 0
  for (let i = 0; i < samples.length; i++) {
    const value = samples instanceof Uint16Array ? halfTable[samples[i]] : samples[i]
    if (Math.abs(value - Math.round(value)) > 1e-3) odd++
  }
  return odd > 0.002 * samples.length
}
