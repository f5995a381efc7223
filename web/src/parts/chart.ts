import { scheme } from '@/theme/scheme'

/** ECharts wants plain colours; read them from the scheme in force. */
export function colour(name: string): string {
  void scheme.value
  const variable = name.replace(/^var\((.*)\)$/, '$1')
  return getComputedStyle(document.documentElement).getPropertyValue(variable).trim()
}

/** What every chart of ours shares: quiet axes, no motion, our type. Read inside a computed. */
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
