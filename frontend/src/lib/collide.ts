// What a body under the pointer stands in, while it is dragged; the server judges again on the drop.
export interface Faces {
  x0: number
  x1: number
  y0: number
  y1: number
  z0: number
  z1: number
}
export type Corner = readonly [number, number]

/** How deep two boxes stand in each other; 0 or less = apart. */
export function overlap(a: Faces, b: Faces): number {
  return Math.min(
    Math.min(a.x1, b.x1) - Math.max(a.x0, b.x0),
    Math.min(a.y1, b.y1) - Math.max(a.y0, b.y0),
    Math.min(a.z1, b.z1) - Math.max(a.z0, b.z0),
  )
}

export function inside(corners: readonly Corner[], x: number, y: number): boolean {
  let found = false
  corners.forEach(([ax, ay], i) => {
    const [bx, by] = corners[(i + 1) % corners.length]!
    if (ay > y !== by > y && x < ax + ((bx - ax) * (y - ay)) / (by - ay)) found = !found
  })
  return found
}

/** Distance of a point to an edge. */
function toEdge(x: number, y: number, [ax, ay]: Corner, [bx, by]: Corner): number {
  const long = (bx - ax) ** 2 + (by - ay) ** 2
  const t = long ? Math.min(1, Math.max(0, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / long)) : 0
  return Math.hypot(x - ax - t * (bx - ax), y - ay - t * (by - ay))
}

/** True if the box keeps its clearance inside the outline and between the side walls. */
export function fitsIn(corners: readonly Corner[], halfWidth: number, clear: number, b: Faces): boolean {
  const hair = 5e-6
  if (b.z0 < -halfWidth + clear - hair || b.z1 > halfWidth - clear + hair) return false
  const points: Corner[] = []
  for (let i = 0; i <= 8; i++) {
    const u = i / 8
    const x = b.x0 + (b.x1 - b.x0) * u
    const y = b.y0 + (b.y1 - b.y0) * u
    points.push([x, b.y0], [x, b.y1], [b.x0, y], [b.x1, y])
  }
  const near = (x: number, y: number) => Math.min(...corners.map((c, i) => toEdge(x, y, c, corners[(i + 1) % corners.length]!)))
  const poked = corners.some(([x, y]) => x > b.x0 + hair && x < b.x1 - hair && y > b.y0 + hair && y < b.y1 - hair)
  return !poked && points.every(([x, y]) => inside(corners, x, y) && near(x, y) >= clear - hair)
}

export const moved = (b: Faces, dx: number, dy: number, dz: number): Faces => ({
  x0: b.x0 + dx,
  x1: b.x1 + dx,
  y0: b.y0 + dy,
  y1: b.y1 + dy,
  z0: b.z0 + dz,
  z1: b.z1 + dz,
})
