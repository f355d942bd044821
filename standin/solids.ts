/** Solids that a ray can meet. Each returns the nearest distance beyond `near`, or Infinity, and leaves its normal in {@link normal}. */

export interface Ray {
  ox: number
  oy: number
  oz: number
  dx: number
  dy: number
  dz: number
}

/** As `Math.hypot`, which is several times as slow. */
export const lengthOf = (x: number, y: number, z = 0): number => Math.sqrt(x * x + y * y + z * z)

/** Outward normal at the last hit of a solid that reported one. */
export const normal = { x: 0, y: 0, z: 0 }

export type Solid =
  | {
      readonly kind: 'box'
      readonly min: readonly number[]
      readonly max: readonly number[]
      readonly material: number
    }
  | {
      readonly kind: 'capsule'
      readonly a: readonly number[]
      readonly b: readonly number[]
      readonly radius: number
      readonly material: number
    }
  | { readonly kind: 'sphere'; readonly centre: readonly number[]; readonly radius: number; readonly material: number }
  | {
      readonly kind: 'cylinder'
      readonly centre: readonly number[]
      readonly radius: number
      readonly height: number
      readonly material: number
    }
  | {
      readonly kind: 'gable'
      readonly min: readonly number[]
      readonly max: readonly number[]
      readonly ridge: number
      readonly material: number
    }

export const near = 1e-4

export function hitSolid(ray: Ray, solid: Solid): number {
  switch (solid.kind) {
    case 'box':
      return hitBox(ray, solid.min, solid.max)
    case 'capsule':
      return hitCapsule(ray, solid.a, solid.b, solid.radius)
    case 'sphere':
      return hitSphere(ray, solid.centre[0], solid.centre[1], solid.centre[2], solid.radius)
    case 'cylinder':
      return hitCylinder(ray, solid.centre, solid.radius, solid.height)
    case 'gable':
      return hitGable(ray, solid.min, solid.max, solid.ridge)
  }
}

export function hitSphere(ray: Ray, cx: number, cy: number, cz: number, radius: number): number {
  const x = ray.ox - cx
  const y = ray.oy - cy
  const z = ray.oz - cz
  const b = x * ray.dx + y * ray.dy + z * ray.dz
  const c = x * x + y * y + z * z - radius * radius
  const d = b * b - c
  if (d < 0) return Infinity
  const root = Math.sqrt(d)
  const t = -b - root > near ? -b - root : -b + root
  if (t <= near) return Infinity
  normal.x = (x + t * ray.dx) / radius
  normal.y = (y + t * ray.dy) / radius
  normal.z = (z + t * ray.dz) / radius
  return t
}

export function hitBox(ray: Ray, min: readonly number[], max: readonly number[]): number {
  const { ox, oy, oz, dx, dy, dz } = ray
  const ax = ((dx > 0 ? min[0] : max[0]) - ox) / dx
  const ay = ((dy > 0 ? min[1] : max[1]) - oy) / dy
  const az = ((dz > 0 ? min[2] : max[2]) - oz) / dz
  const enter = Math.max(ax, ay, az)
  if (!(enter > near)) return Infinity
  const bx = ((dx > 0 ? max[0] : min[0]) - ox) / dx
  const by = ((dy > 0 ? max[1] : min[1]) - oy) / dy
  const bz = ((dz > 0 ? max[2] : min[2]) - oz) / dz
  if (enter > Math.min(bx, by, bz)) return Infinity
  normal.x = enter === ax ? -Math.sign(dx) : 0
  normal.y = enter === ay && enter !== ax ? -Math.sign(dy) : 0
  normal.z = enter === az && enter !== ax && enter !== ay ? -Math.sign(dz) : 0
  return enter
}

function hitCapsule(ray: Ray, a: readonly number[], b: readonly number[], radius: number): number {
  const bax = b[0] - a[0]
  const bay = b[1] - a[1]
  const baz = b[2] - a[2]
  const oax = ray.ox - a[0]
  const oay = ray.oy - a[1]
  const oaz = ray.oz - a[2]
  const baba = bax * bax + bay * bay + baz * baz
  const bard = bax * ray.dx + bay * ray.dy + baz * ray.dz
  const baoa = bax * oax + bay * oay + baz * oaz
  const rdoa = ray.dx * oax + ray.dy * oay + ray.dz * oaz
  const oaoa = oax * oax + oay * oay + oaz * oaz
  const qa = baba - bard * bard
  const qb = baba * rdoa - baoa * bard
  const qc = baba * oaoa - baoa * baoa - radius * radius * baba
  const h = qb * qb - qa * qc
  if (h < 0) return Infinity
  const t = (-qb - Math.sqrt(h)) / qa
  const y = baoa + t * bard
  if (y > 0 && y < baba && t > near) {
    const k = y / baba
    normal.x = (oax + t * ray.dx - bax * k) / radius
    normal.y = (oay + t * ray.dy - bay * k) / radius
    normal.z = (oaz + t * ray.dz - baz * k) / radius
    return t
  }
  const end = y <= 0 ? a : b
  return hitSphere(ray, end[0], end[1], end[2], radius)
}

/** Upright, with a flat top. */
function hitCylinder(ray: Ray, centre: readonly number[], radius: number, height: number): number {
  const x = ray.ox - centre[0]
  const z = ray.oz - centre[2]
  const a = ray.dx * ray.dx + ray.dz * ray.dz
  const b = x * ray.dx + z * ray.dz
  const c = x * x + z * z - radius * radius
  const d = b * b - a * c
  if (d < 0) return Infinity
  const t = (-b - Math.sqrt(d)) / a
  const y = ray.oy + t * ray.dy - centre[1]
  if (t > near && y >= 0 && y <= height) {
    normal.x = (x + t * ray.dx) / radius
    normal.y = 0
    normal.z = (z + t * ray.dz) / radius
    return t
  }
  const top = (centre[1] + height - ray.oy) / ray.dy
  if (top > near) {
    const px = x + top * ray.dx
    const pz = z + top * ray.dz
    if (px * px + pz * pz <= radius * radius) {
      normal.x = 0
      normal.y = 1
      normal.z = 0
      return top
    }
  }
  return Infinity
}

/** A shed: a box with a gabled roof whose ridge runs along x. */
function hitGable(ray: Ray, min: readonly number[], max: readonly number[], ridge: number): number {
  let best = hitBox(ray, min, max)
  let nx = normal.x
  let ny = normal.y
  let nz = normal.z
  const middle = (min[2] + max[2]) / 2
  const half = (max[2] - min[2]) / 2
  const rise = ridge - max[1]
  const length = Math.hypot(half, rise)
  for (const side of [-1, 1]) {
    const sy = half / length
    const sz = (side * rise) / length
    const along = ray.dy * sy + ray.dz * sz
    const t = ((ridge - ray.oy) * sy + (middle - ray.oz) * sz) / along
    if (!(t > near && t < best)) continue
    const x = ray.ox + t * ray.dx
    const z = ray.oz + t * ray.dz
    const across = (z - middle) * side
    if (x >= min[0] - 0.3 && x <= max[0] + 0.3 && across >= 0 && across <= half + 0.3) {
      // Under the eaves the roof is seen from below.
      const facing = along > 0 ? -1 : 1
      best = t
      nx = 0
      ny = facing * sy
      nz = facing * sz
    }
  }
  const gable = ray.dx > 0 ? min[0] : max[0]
  const t = (gable - ray.ox) / ray.dx
  if (t > near && t < best) {
    const y = ray.oy + t * ray.dy
    const z = ray.oz + t * ray.dz
    if (y >= max[1] && y <= ridge - (Math.abs(z - middle) / half) * rise) {
      best = t
      nx = -Math.sign(ray.dx)
      ny = 0
      nz = 0
    }
  }
  normal.x = nx
  normal.y = ny
  normal.z = nz
  return best
}
