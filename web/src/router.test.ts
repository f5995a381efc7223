import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, expect, test } from 'vitest'
import { router } from './router'
import { useHand } from './strip/store'

beforeEach(() => {
  history.replaceState(null, '', '/')
  setActivePinia(createPinia())
})

test('the knives in hand are in every link', async () => {
  useHand().ids = [1, 4]
  await router.push('/steels')
  expect(router.currentRoute.value.fullPath).toBe('/steels?hand=1.4')
  useHand().ids = []
  await router.push('/office')
  expect(router.currentRoute.value.fullPath).toBe('/office')
})

test('a link hangs the knives that it names, and keeps what else it asks', async () => {
  await router.push('/trials?new=1&hand=7.9.x')
  expect(useHand().ids).toEqual([7, 9])
  expect(router.currentRoute.value.query).toEqual({ new: '1', hand: '7.9' })
})

test.each([
  ['/bench/24', { sheetId: 24 }],
  ['/sheet/7', { pieceId: 7 }],
  ['/sheet', { pieceId: null }],
  ['/upkeep/7', { pieceId: 7, part: 'setup' }],
  ['/upkeep/7/life', { pieceId: 7, part: 'life' }],
  ['/board/saved/3', { comparisonId: 3 }],
  ['/counter/card/3', { pieceId: 3 }],
])('%s is for %j', (path, props) => {
  const found = router.resolve(path)
  const made = found.matched[0]!.props.default as (route: typeof found) => object
  expect(made(found)).toEqual(props)
})

test.each(['/attic', '/bench/x', '/upkeep/7/attic', '/sheet/x'])('%s is no place', (path) => {
  expect(router.resolve(path).matched[0]!.path).toBe('/:rest(.*)*')
})

test('every place but the door says which station it is and what it is for', () => {
  const nameless = router.getRoutes().filter((r) => !r.meta.station || !r.meta.purpose)
  expect(nameless.map((r) => r.path).sort()).toEqual([
    '/',
    '/:rest(.*)*',
    '/board/kept/:comparison(\\d+)?',
    '/join',
  ])
})
