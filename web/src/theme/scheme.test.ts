import { nextTick } from 'vue'
import { beforeEach, expect, test, vi } from 'vitest'

vi.mock('./vuetify', () => ({ vuetify: { theme: { change: vi.fn() } } }))

const visit = async () => {
  vi.resetModules()
  return { ...(await import('./scheme')), chart: await import('@/parts/chart') }
}

/** The system's own scheme, and its change. */
const dark = Object.assign(new EventTarget(), { matches: false })
vi.stubGlobal('matchMedia', () => dark)
function system(isDark: boolean): void {
  dark.matches = isDark
  dark.dispatchEvent(new Event('change'))
}

beforeEach(() => {
  dark.matches = false
  document.documentElement.style.setProperty('--ink', '#2b211a')
})

test('the scheme is the system’s until one is chosen, and follows it', async () => {
  dark.matches = true
  const { scheme, switchScheme } = await visit()
  expect(scheme.value).toBe('rook')
  system(false)
  expect(scheme.value).toBe('maple')
  switchScheme()
  system(true)
  system(false)
  expect(scheme.value).toBe('rook')
})

test('the scheme is light until it is switched, and kept', async () => {
  const { scheme, switchScheme } = await visit()
  expect([scheme.value, document.documentElement.dataset.scheme]).toEqual(['maple', 'maple'])
  switchScheme()
  await nextTick()
  expect(document.documentElement.dataset.scheme).toBe('rook')
  const later = await visit()
  expect(later.scheme.value).toBe('rook')
  later.switchScheme()
  expect(later.scheme.value).toBe('maple')
})

test('a chart is drawn in the colours of the scheme, and does not move', async () => {
  const { chart } = await visit()
  expect(chart.colour('var(--ink)')).toBe('#2b211a')
  expect(chart.colour('--ink')).toBe('#2b211a')
  expect(chart.chartStyle()).toMatchObject({
    whole: { animation: false },
    tooltip: { textStyle: { color: '#2b211a' } },
  })
})
