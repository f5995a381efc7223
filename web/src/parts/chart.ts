import { scheme } from '@/theme/scheme'

/** ECharts wants plain colours; read them from the scheme in force. */
export function colour(name: string): string {
  void scheme.value
  const variable = name.replace(/^var\((.*)\)$/, '$1')
  return getComputedStyle(document.documentElement).getPropertyValue(variable).trim()
}

/** What every chart of our own shares: quiet axes, no motion, our type. Read inside a computed. */
export function chartStyle() {
  const ink = colour('--soft-ink')
  const line = colour('--hairline')
  return {
    axis: {
      nameLocation: 'middle' as const,
      nameTextStyle: { color: ink },
      axisLabel: { color: ink },
      axisLine: { show: true, lineStyle: { color: line } },
      splitLine: { lineStyle: { color: line, opacity: 0.5 } },
    },
    whole: {
      animation: false,
      textStyle: { fontFamily: 'Source Sans 3 Variable' },
    },
    tooltip: {
      backgroundColor: colour('--panel'),
      borderColor: line,
      textStyle: { color: colour('--ink'), fontSize: 13 },
    },
  }
}

/** The end of an axis from 0 that holds a value, at a whole tick: 1, 2, 2.5 or 5 times a power of ten. */
export function wholeTop(value: number): number {
  if (!(value > 0)) return 1
  const rough = value / 5
  const power = 10 ** Math.floor(Math.log10(rough))
  const step = [1, 2, 2.5, 5, 10].map((n) => n * power).find((n) => n >= rough * 0.999) ?? rough
  return step * Math.ceil(value / step - 1e-9)
}

const LABEL_PX = 14

/**
 * How far down each label at the end of a line goes, in pixels, so that none touches another; they
 * keep their order. `ends` are the last values of the lines, on an axis from 0 to `top`.
 */
export function endOffsets(ends: number[], top: number, plotPx: number): number[] {
  const at = ends.map((value) => plotPx * (1 - value / top))
  const order = at.map((_, i) => i).sort((a, b) => at[a]! - at[b]!)
  const placed = [...at]
  for (let k = 1; k < order.length; k++)
    placed[order[k]!] = Math.max(placed[order[k]!]!, placed[order[k - 1]!]! + LABEL_PX)
  let floor = plotPx
  for (const i of [...order].reverse()) {
    placed[i] = Math.min(placed[i]!, floor)
    floor = placed[i]! - LABEL_PX
  }
  return placed.map((y, i) => Math.round(y - at[i]!))
}
