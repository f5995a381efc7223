import type { FigureOut, QuantityOut } from '@/api/schema'
import { firstUnit } from './numbers'

/** A figure in the system of units that the shop shows first. */
export function inFirstUnit(
  q: QuantityOut,
  { mean, expanded, kind, other }: FigureOut,
  unitsFirst: Parameters<typeof firstUnit>[1],
) {
  const own = { mean, expanded, kind, unit: q.unit as string }
  return other && firstUnit(q, unitsFirst) ? { ...other, kind } : own
}
