import type { FigureKind, FigureOut, PredictionOut, QuantityOut } from '@/api/schema'

/** Numbers in words, with only the digits their uncertainty supports. */

export function decimalsFor(width: number): number {
  if (!(width > 0) || !Number.isFinite(width)) return 2
  return Math.max(-3, Math.min(4, -Math.floor(Math.log10(width / 2.5))))
}

export function rounded(value: number, decimals: number): string {
  const step = 10 ** decimals
  const text = (Math.round(value * step) / step).toFixed(Math.max(decimals, 0))
  return Number(text) === 0 ? text.replace('-', '') : text.replace('-', '−')
}

interface Interval {
  central: number
  low: number
  high: number
}

/** "20 to 27", with the digits the interval supports. */
export function rangeText({ low, high }: Pick<Interval, 'low' | 'high'>): string {
  const decimals = decimalsFor(high - low)
  return `${rounded(low, decimals)} to ${rounded(high, decimals)}`
}

/** "23", with the digits the interval supports. */
export function likelyText({ central, low, high }: Interval): string {
  return rounded(central, decimalsFor(high - low))
}

/** A probability as a count of simulations; never none and never all. */
export function simulationsText(share: number): string {
  const count = Math.round(100 * share)
  if (count < 1) return 'fewer than 1 of 100'
  return count > 99 ? 'more than 99 of 100' : `${count} of 100`
}

interface Figure {
  mean: number
  expanded: number
  kind?: FigureKind
}

/** The mean with the digits U supports; ≈ before it if it was not measured. */
export function meanText({ mean, expanded, kind = 'measured' }: Figure): string {
  const text = rounded(mean, decimalsFor(2 * expanded))
  return kind === 'measured' ? text : `≈ ${text}`
}

export function expandedText({ expanded }: Figure): string {
  return rounded(expanded, decimalsFor(2 * expanded))
}

/** The unit of a quantity in the system that the shop shows first, where that is not its own. */
export function firstUnit(
  q: { other_unit: string } | undefined,
  first: 'metric' | 'imperial' | undefined,
): string | undefined {
  return q && first === 'imperial' && ['in', 'oz'].includes(q.other_unit) ? q.other_unit : undefined
}

/** A figure in the system of units that the shop shows first. */
export function inFirstUnit(
  q: QuantityOut,
  { mean, expanded, kind, other }: FigureOut,
  first: 'metric' | 'imperial' | undefined,
) {
  const own = { mean, expanded, kind, unit: q.unit as string }
  return other && firstUnit(q, first) ? { ...other, kind } : own
}

/** A prediction's limits and likely value; null where nothing is predicted. */
export function intervalOf({ central, low, high }: PredictionOut) {
  return central !== null && low !== null && high !== null ? { central, low, high } : null
}

/** Mass per cent of an element with the digits that standards print; nothing where none is given. */
export function shareText(value: number | undefined, element = ''): string {
  return value === undefined ? '' : rounded(value, value < 1 || element === 'C' ? 2 : 1)
}

export function unitText(unit: string): string {
  return { dps: '°/side', deg: '°', um: 'µm', '%': '% right' }[unit] ?? unit
}

/** The same figure in the other system, or an empty string. */
export function otherText(other: (Figure & { unit: string }) | null | undefined): string {
  if (!other) return ''
  const unit = other.unit === 'incl' ? '° incl' : ` ${other.unit}`
  return `${meanText(other)}${unit}`
}

/** 70 -> "70:30", right-hand face first. */
export function ratioText(rightPercent: number): string {
  const right = Math.round(rightPercent)
  return `${right}:${100 - right}`
}

/** How long ago a moment was, in one or two words. */
export function ago(moment: string): string {
  const minutes = Math.round((Date.now() - new Date(moment).getTime()) / 60_000)
  if (minutes < 6) return 'just now'
  if (minutes < 60) return `${minutes} min ago`
  if (minutes < 24 * 60) return `${Math.round(minutes / 60)} h ago`
  return `${Math.round(minutes / (24 * 60))} d ago`
}
