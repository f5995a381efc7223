import type { EChartsCoreOption } from 'echarts/core'
import { scheme as inForce, type Scheme } from '@/theme/scheme'

/** A chart as a file: how wide, in which scheme, as drawing or picture. */
export interface ChartFile {
  format: 'svg' | 'png'
  widthPx: number
  scheme: Scheme
}

export const NARROWEST_PX = 320
export const WIDEST_PX = 3200
/** A chart is laid out at this width, so that its lettering keeps its proportion in every file. */
const LAID_OUT_PX = 800

const HUES = [
  ...['--ground', '--panel', '--ink', '--soft-ink', '--hairline', '--measured', '--derived'],
  ...['--predicted', '--rust', '--knife-a', '--knife-b', '--knife-c', '--knife-d', '--knife-e'],
  '--knife-f',
]

/** The colours of a scheme by their names, whichever is in force; nothing is painted between. */
export function palette(scheme: Scheme): Record<string, string> {
  const root = document.documentElement
  root.dataset.scheme = scheme
  const style = getComputedStyle(root)
  const found = Object.fromEntries(HUES.map((hue) => [hue, style.getPropertyValue(hue).trim()]))
  root.dataset.scheme = inForce.value
  return found
}

/** An option with every colour that is a key of `hues` replaced; functions stay as they are. */
export function recoloured<T>(option: T, hues: Record<string, string>): T {
  if (typeof option === 'string') return (hues[option] ?? option) as T
  if (Array.isArray(option)) return option.map((one) => recoloured(one, hues)) as T
  if (option === null || typeof option !== 'object') return option
  const entries = Object.entries(option).map(([key, value]) => [key, recoloured(value, hues)])
  return Object.fromEntries(entries) as T
}

/** The chart of an option, drawn again for a file; `height` is as many parts of the width. */
export async function chartFile(
  option: EChartsCoreOption,
  height: number,
  { format, widthPx, scheme }: ChartFile,
): Promise<string> {
  const [now, wanted] = [palette(inForce.value), palette(scheme)]
  const hues = Object.fromEntries(HUES.map((hue) => [now[hue]!, wanted[hue]!]))
  const { init, use } = await import('echarts/core')
  const { CanvasRenderer, SVGRenderer } = await import('echarts/renderers')
  use([CanvasRenderer, SVGRenderer])
  const chart = init(document.createElement('div'), null, {
    renderer: format === 'svg' ? 'svg' : 'canvas',
    width: LAID_OUT_PX,
    height: Math.round(LAID_OUT_PX * height),
    devicePixelRatio: widthPx / LAID_OUT_PX,
  })
  try {
    const font = "'Source Sans 3 Variable', 'Source Sans 3', system-ui, sans-serif"
    chart.setOption({
      ...recoloured(option, hues),
      backgroundColor: wanted['--ground'],
      textStyle: { fontFamily: font },
    })
    if (format === 'png')
      return chart.getDataURL({ type: 'png', pixelRatio: widthPx / LAID_OUT_PX })
    const drawn = decodeURIComponent(chart.getDataURL({ type: 'svg' }).split(',')[1]!)
    return `data:image/svg+xml;charset=utf-8,${encodeURIComponent(sized(drawn, widthPx, height))}`
  } finally {
    chart.dispose()
  }
}

/** A drawing that is as wide as asked for, whatever it was laid out at. */
export function sized(svg: string, widthPx: number, height: number): string {
  return svg.replace(/<svg width="\d+" height="\d+"/, () => {
    return `<svg width="${widthPx}" height="${Math.round(widthPx * height)}"`
  })
}
