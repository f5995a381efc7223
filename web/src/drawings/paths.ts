import type { OutlineOut } from '@/api/schema'

type Point = [number, number]

/** SVG path of a polygon in mm, with y turned down the page. */
export function polygonPath(points: readonly (readonly number[])[]): string {
  return points.length
    ? `M${points.map(([x, y]) => `${round(x)} ${round(-(y ?? 0))}`).join('L')}Z`
    : ''
}

/** SVG path through points, with y turned down the page. */
export function linePath(points: readonly (readonly number[])[]): string {
  return `M${points.map(([x, y]) => `${round(x)} ${round(-(y ?? 0))}`).join('L')}`
}

/** A closed path with its corners rounded, for handles. */
export function roundedPath(points: readonly (readonly number[])[], radius = 4): string {
  const n = points.length
  if (n < 3) return polygonPath(points)
  const parts: string[] = []
  for (let i = 0; i < n; i++) {
    const before = points[(i + n - 1) % n] as Point
    const at = points[i] as Point
    const after = points[(i + 1) % n] as Point
    const a = toward(at, before, radius)
    const b = toward(at, after, radius)
    parts.push(`${i ? 'L' : 'M'}${pair(a)}Q${pair(at)} ${pair(b)}`)
  }
  return `${parts.join('')}Z`
}

function toward(from: Point, to: Point, distance: number): Point {
  const length = Math.hypot(to[0] - from[0], to[1] - from[1]) || 1
  const share = Math.min(distance, length / 2.2) / length
  return [from[0] + (to[0] - from[0]) * share, from[1] + (to[1] - from[1]) * share]
}

function pair([x, y]: Point): string {
  return `${round(x)} ${round(-y)}`
}

function round(value: number | undefined): number {
  return Math.round((value ?? 0) * 100) / 100
}

export interface Extent {
  left: number
  right: number
  top: number
  bottom: number
}

/** What an outline occupies, in mm with y up. */
export function extent(outline: OutlineOut): Extent {
  const all = [...outline.blade, ...outline.handle]
  const xs = all.map(([x]) => x ?? 0)
  const ys = all.map(([, y]) => y ?? 0)
  return {
    left: Math.min(...xs),
    right: Math.max(...xs),
    top: Math.max(...ys),
    bottom: Math.min(...ys),
  }
}

/** Where the edge touches the board with the handle raised, from (raise, x, y) rows. */
export function contactAt(
  rock: readonly (readonly number[])[],
  raiseDeg: number,
): [number, number] {
  let low: readonly number[] = rock[0] ?? [0, 0, 0]
  for (const row of rock) {
    const [raise = 0, x = 0, y = 0] = row
    if (raise >= raiseDeg) {
      const [r0 = 0, x0 = 0, y0 = 0] = low
      const share = raise > r0 ? (raiseDeg - r0) / (raise - r0) : 1
      return [x0 + (x - x0) * share, y0 + (y - y0) * share]
    }
    low = row
  }
  return [low[1] ?? 0, low[2] ?? 0]
}

/** SVG transform that raises the handle about the contact and sets the contact on the board. */
export function rockedBy([x, y]: readonly [number, number], raiseDeg: number): string {
  return `translate(0 ${round(y)}) rotate(${round(raiseDeg)} ${round(x)} ${round(-y)})`
}
