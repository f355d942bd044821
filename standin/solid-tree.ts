/** Solids in a tree of boxes, so that a ray looks at few of them: flat arrays, walked from near to far. */

import { hitSolid, normal, type Ray, type Solid } from './solids'

export interface Box {
  readonly min: readonly number[]
  readonly max: readonly number[]
}

export interface SolidTree {
  /** six numbers a node: least x, y, z, greatest x, y, z */
  readonly bounds: Float64Array
  /** of an inner node, the place of its second child (the first follows it); of a leaf, 0 */
  readonly second: Int32Array
  /** of an inner node, the axis along which its children lie */
  readonly axis: Uint8Array
  /** of a leaf, its solids: `solids[first] .. solids[first + count - 1]` */
  readonly first: Int32Array
  readonly count: Int32Array
  readonly solids: readonly Solid[]
}

/** What a ray meets; `t` and `solid` are changed when something nearer than `t` is met. */
export interface Nearest {
  t: number
  nx: number
  ny: number
  nz: number
  solid: Solid | null
}

const mostInLeaf = 2
const deepest = 64

export function solidTree(solids: readonly Solid[], boundsOf: (solid: Solid) => Box): SolidTree {
  const nodes: { bounds: number[]; second: number; axis: number; first: number; count: number }[] = []
  const ordered: Solid[] = []
  const add = (bounded: { readonly solid: Solid; readonly box: Box }[]): void => {
    const least = [0, 1, 2].map((i) => Math.min(...bounded.map(({ box }) => box.min[i])))
    const most = [0, 1, 2].map((i) => Math.max(...bounded.map(({ box }) => box.max[i])))
    const node = { bounds: [...least, ...most], second: 0, axis: 0, first: ordered.length, count: 0 }
    nodes.push(node)
    if (bounded.length <= mostInLeaf) {
      node.count = bounded.length
      ordered.push(...bounded.map(({ solid }) => solid))
      return
    }
    const middle = ({ box }: { readonly box: Box }, i: number) => box.min[i] + box.max[i]
    const spread = (i: number) => {
      const all = bounded.map((one) => middle(one, i))
      return Math.max(...all) - Math.min(...all)
    }
    node.axis = [0, 1, 2].reduce((widest, i) => (spread(i) > spread(widest) ? i : widest), 0)
    const sorted = [...bounded].sort((a, b) => middle(a, node.axis) - middle(b, node.axis))
    const half = sorted.length >> 1
    add(sorted.slice(0, half))
    node.second = nodes.length
    add(sorted.slice(half))
  }
  add(solids.map((solid) => ({ solid, box: boundsOf(solid) })))
  return {
    bounds: Float64Array.from(nodes.flatMap(({ bounds }) => bounds)),
    second: Int32Array.from(nodes, ({ second }) => second),
    axis: Uint8Array.from(nodes, ({ axis }) => axis),
    first: Int32Array.from(nodes, ({ first }) => first),
    count: Int32Array.from(nodes, ({ count }) => count),
    solids: ordered,
  }
}

const waiting = new Int32Array(deepest)

/**
 * Finds what the ray meets before `hit.t`.
 *
 * @param anything whether the first thing found is enough, near or not
 */
export function castTree(ray: Ray, tree: SolidTree, hit: Nearest, anything: boolean): void {
  const { bounds, second, axis, first, count, solids } = tree
  const { ox, oy, oz } = ray
  const ix = 1 / ray.dx
  const iy = 1 / ray.dy
  const iz = 1 / ray.dz
  // Which of a box's two planes across each axis the ray comes to first.
  const nearX = ix >= 0 ? 0 : 3
  const nearY = iy >= 0 ? 1 : 4
  const nearZ = iz >= 0 ? 2 : 5
  let limit = hit.t
  let depth = 0
  let node = 0
  for (;;) {
    const at = node * 6
    const x = (bounds[at + nearX] - ox) * ix
    const y = (bounds[at + nearY] - oy) * iy
    const z = (bounds[at + nearZ] - oz) * iz
    let enter = x > y ? x : y
    if (z > enter) enter = z
    const outX = (bounds[at + 3 - nearX] - ox) * ix
    const outY = (bounds[at + 5 - nearY] - oy) * iy
    const outZ = (bounds[at + 7 - nearZ] - oz) * iz
    let leave = outX < outY ? outX : outY
    if (outZ < leave) leave = outZ
    if (enter <= leave && leave >= 0 && enter < limit) {
      const inLeaf = count[node]
      if (inLeaf === 0) {
        const along = axis[node] === 0 ? ix : axis[node] === 1 ? iy : iz
        if (along >= 0) {
          waiting[depth++] = second[node]
          node++
        } else {
          waiting[depth++] = node + 1
          node = second[node]
        }
        continue
      }
      for (let i = first[node]; i < first[node] + inLeaf; i++) {
        const t = hitSolid(ray, solids[i])
        if (t >= limit) continue
        limit = t
        hit.t = t
        hit.nx = normal.x
        hit.ny = normal.y
        hit.nz = normal.z
        hit.solid = solids[i]
        if (anything) return
      }
    }
    if (depth === 0) return
    node = waiting[--depth]
  }
}
