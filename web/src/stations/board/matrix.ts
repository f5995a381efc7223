import type { Difference } from '@/api/schema'
import { rounded, unitText } from '@/parts/numbers'

type Verdict = Difference['verdict']

export interface Cell {
  /** How much more the knife of the row has than that of the column, in the quantity's unit. */
  by: string
  /** The same in per cent of the knife of the column; empty where that says nothing. */
  percent: string
  verdict: Verdict
}

const NO_BASE = ['asymmetry', 'balance_point', 'hardness']

/** Where a pair stands in the list of pairs: A with B, A with C and so on, then B with C. */
export function pairAt(i: number, j: number, n: number): number {
  const [a, b] = i < j ? [i, j] : [j, i]
  return a * n - (a * (a + 1)) / 2 + (b - a - 1)
}

/** Every knife of a quantity against every other; null on the diagonal and where one is unknown. */
export function matrixOf(d: Difference): (Cell | null)[][] {
  const n = d.values.length
  return d.values.map((a, i) =>
    d.values.map((b, j) => {
      const verdict = i === j ? null : d.pairs?.[pairAt(i, j, n)]
      if (!a || !b || !verdict) return null
      const gap = a.mean - b.mean
      const sign = gap < 0 ? '−' : '+'
      const size = Math.abs(gap)
      const by = `${sign}${rounded(size, size < 1 ? 2 : size < 10 ? 1 : 0)}`
      const based = b.mean > 0 && !NO_BASE.includes(d.key)
      const percent = !based
        ? ''
        : a.mean > 4 * b.mean
          ? `${rounded(a.mean / b.mean, 0)} times`
          : `${sign}${Math.abs(Math.round((100 * gap) / b.mean))} %`
      return { by, percent, verdict }
    }),
  )
}

const WORDS: Record<Verdict, string> = {
  noticeable: 'real, and noticeable at the board',
  real: 'real, but small',
  not_measurable: 'not measurable',
}

/** One pair in a sentence that names its base. */
export function pairText(d: Difference, cell: Cell, one: string, other: string): string {
  const unit = d.unit ? ` ${unitText(d.unit)}` : ''
  const of = cell.percent.endsWith('%') ? ' of' : ''
  const share = cell.percent ? ` (${cell.percent}${of} ${other})` : ''
  return `${d.label}: ${one} against ${other} ${cell.by}${unit}${share}, ${WORDS[cell.verdict]}.`
}
