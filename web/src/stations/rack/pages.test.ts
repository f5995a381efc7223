import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { flushPromises, mount, type VueWrapper } from '@vue/test-utils'
import { defineComponent, h, nextTick, ref } from 'vue'
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest'
import { shop, type Asked as Request } from '@/testing/shop'
import type { RackRow } from '@/api/schema'
import { easeFor, PAGE, usePages, type Asked } from './pages'

const SHELF = 1000
const answer = ({ query }: Request, behind = 0) => {
  const offset = Number(query.get('offset'))
  const shown = query.get('search') ? 1 : SHELF
  const rows = Array.from({ length: Math.max(0, Math.min(PAGE, shown - offset)) }, (_, i) => ({
    piece: { id: offset + i, name: query.get('search') ?? '' },
  }))
  return { body: { shown, total: SHELF, behind, rows } }
}

let page: VueWrapper
let pages: ReturnType<typeof usePages>
const asked = ref<Asked>({
  search: '',
  sort: 'name',
  descending: false,
  food_mix: 'all_round',
  knife_type: [],
  within: [],
})
const first = ref(0)
const last = ref(11)
const offsets = () => shop.of('GET', '/api/rack').map((a) => Number(a.query.get('offset')))

async function open(): Promise<void> {
  const queryClient = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  page = mount(
    defineComponent({
      setup() {
        pages = usePages(asked, first, last)
        return () => h('div')
      },
    }),
    { global: { plugins: [[VueQueryPlugin, { queryClient }]] } },
  )
  await flushPromises()
}

beforeEach(() => {
  asked.value = { ...asked.value, search: '', knife_type: [], within: [] }
  first.value = 0
  last.value = 11
  shop.when('GET', '/api/rack', (request) => answer(request))
})
afterEach(() => {
  page.unmount()
  vi.useRealTimers()
})

describe('of a large shelf only what is near the window is fetched', () => {
  test('the first page, and the next one ahead', async () => {
    await open()
    expect(new Set(offsets())).toEqual(new Set([0, PAGE]))
    expect([pages.at(11)?.piece.id, pages.at(500)]).toEqual([11, undefined])
  })

  test('far down, what is there; never beyond the end', async () => {
    await open()
    first.value = 985
    last.value = 999
    await flushPromises()
    expect(Math.max(...offsets())).toBe(960)
    expect(offsets()).not.toContain(480)
    expect(pages.at(999)?.piece.id).toBe(999)
  })
})

test('the shelf before stays until the first page of the next question is there', async () => {
  await open()
  let arrive!: () => void
  const coming = new Promise<void>((resolve) => (arrive = resolve))
  shop.when('GET', '/api/rack', async (request) => (await coming, answer(request)))
  asked.value = { ...asked.value, search: 'gyuto' }
  await flushPromises()
  expect([pages.head.value?.shown, pages.at(0)?.piece.name]).toEqual([SHELF, ''])
  arrive()
  await flushPromises()
  await nextTick()
  expect([pages.head.value?.shown, pages.at(0)?.piece.name]).toEqual([1, 'gyuto'])
})

test('while pieces wait to be worked out it looks again, then it stops', async () => {
  vi.useFakeTimers()
  let behind = 3
  shop.when('GET', '/api/rack', (request) => answer(request, behind))
  await open()
  const before = offsets().length
  behind = 0
  await vi.advanceTimersByTimeAsync(1600)
  const looked = offsets().length
  expect(looked).toBeGreaterThan(before)
  await vi.advanceTimersByTimeAsync(10_000)
  expect(offsets().length).toBe(looked)
})

test('an error is told, and asking again mends it', async () => {
  shop.when('GET', '/api/rack', 'unreachable')
  await open()
  expect(pages.error.value?.message).toBe('The server does not answer.')
  shop.when('GET', '/api/rack', (request) => answer(request))
  await pages.again()
  await flushPromises()
  expect([pages.error.value, pages.at(0)?.piece.id]).toEqual([null, 0])
})

test('the ease is that for what is cut; a row of an earlier release keeps the usual one', () => {
  const [usual, fish] = [100, 135].map((central) => ({ central, low: central, high: central }))
  const now = { predicted: { cutting_ease: usual }, eases: { slicing: fish } } as unknown as RackRow
  expect(easeFor(now, 'slicing').predicted.cutting_ease).toEqual(fish)
  expect(easeFor(now, 'all_round')).toBe(now)
  const before = { predicted: { cutting_ease: usual } } as unknown as RackRow
  expect(easeFor(before, 'slicing')).toBe(before)
})
