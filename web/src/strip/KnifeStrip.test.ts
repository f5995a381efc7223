import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { flushPromises, mount, type VueWrapper } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { createMemoryHistory, createRouter } from 'vue-router'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { session } from '@/api/session'
import { needs } from '@/parts/needs'
import { shop } from '@/testing/shop'
import KnifeStrip from './KnifeStrip.vue'
import { useHand } from './store'

let strip: VueWrapper
let hand: ReturnType<typeof useHand>

/** The strip with three knives in hand, at an address. */
async function at(path: string): Promise<void> {
  const outline = { blade: [[0, 0], [210, 46]], handle: [[-130, 20], [0, 44], [0, 20]] } // prettier-ignore
  shop.when('GET', '/api/strip', ({ query }) => ({
    body: query
      .getAll('piece')
      .filter((id) => id !== '999')
      .map((id) => ({ id: Number(id), name: `knife ${id}`, tag: `K-${id}`, outline })),
  }))
  const component = { render: () => null }
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [{ path: '/:rest(.*)*', component }],
  })
  await router.push(path)
  const pinia = createPinia()
  setActivePinia(pinia)
  hand = useHand()
  hand.ids = [1, 4, 5]
  const queryClient = new QueryClient()
  strip = mount(KnifeStrip, {
    global: { plugins: [pinia, router, [VueQueryPlugin, { queryClient }]], directives: { needs } },
  })
  await flushPromises()
}

const tags = () => strip.findAll('.tag').map((t) => t.text())
const letters = () => strip.findAll('.letter').map((t) => t.text())
const press = async (key: string) => {
  window.dispatchEvent(new KeyboardEvent('keydown', { key }))
  await flushPromises()
}

beforeEach(() => at('/rack'))
afterEach(() => strip.unmount())

test('knives hang lettered in order; a letter selects, backspace takes off', async () => {
  expect([tags(), letters()]).toEqual([
    ['K-1', 'K-4', 'K-5'],
    ['A', 'B', 'C'],
  ])
  await press('b')
  expect(strip.findAll('.pick').map((p) => p.attributes('aria-pressed'))).toEqual([
    'false',
    'true',
    'false',
  ])
  await press('Backspace')
  expect([tags(), letters()]).toEqual([
    ['K-1', 'K-5'],
    ['A', 'B'],
  ])
  await press('f') // nothing hangs there
  expect(hand.ids).toEqual([1, 5])
})

test('arrows reorder, and letters follow the order', async () => {
  await strip.findAll('.pick')[0]!.trigger('keydown.right')
  await flushPromises()
  expect([tags(), letters()]).toEqual([
    ['K-4', 'K-1', 'K-5'],
    ['A', 'B', 'C'],
  ])
  await strip.findAll('.pick')[0]!.trigger('keydown.left')
  expect(hand.ids).toEqual([4, 1, 5])
})

test('dragging hangs a knife in another’s place', async () => {
  const knives = strip.findAll('.knife')
  await knives[2]!.trigger('dragstart')
  await knives[0]!.trigger('drop')
  expect(hand.ids).toEqual([5, 1, 4])
})

test('a knife that no longer exists leaves the strip', async () => {
  hand.ids = [1, 999]
  await flushPromises()
  await flushPromises()
  expect(hand.ids).toEqual([1])
})

test('keys typed into a field are the field’s; backspace at the Bench is the Bench’s', async () => {
  const field = document.body.appendChild(document.createElement('input'))
  field.dispatchEvent(new KeyboardEvent('keydown', { key: 'b', bubbles: true }))
  await press('c')
  expect(hand.selected).toBe(5)
  field.remove()
  strip.unmount()
  await at('/bench/24')
  hand.selected = 4
  await press('Backspace')
  expect(hand.ids).toEqual([1, 4, 5])
})

test('each knife is drawn in its own hue and line pattern', () => {
  const looks = strip
    .findAll('path.shape:not(.handle)')
    .map((p) => [p.attributes('stroke'), p.attributes('stroke-dasharray')])
  expect(looks).toEqual([
    ['var(--knife-a)', ''],
    ['var(--knife-b)', '6 3'],
    ['var(--knife-c)', '1.5 3'],
  ])
})

test('the × takes one off; an empty strip says what to do', async () => {
  for (const off of strip.findAll('.off')) await off.trigger('click')
  await flushPromises()
  expect(strip.text()).toContain('Nothing in hand yet')
})

test('w writes a review of the knife selected, on the Board a comparison', async () => {
  shop.when('POST', '/api/pages', { status: 201, body: { id: 7 } })
  await press('w') // who may not write begins nothing
  expect(shop.bodies('POST', '/api/pages')).toEqual([])
  session.value = { me: { may: ['advise'] } } as unknown as typeof session.value
  await press('b')
  await press('w')
  expect(shop.bodies('POST', '/api/pages')[0]).toMatchObject({
    content: { kind: 'review', piece_id: 4 },
  })
  strip.unmount()
  await at('/board')
  await press('w')
  expect(shop.bodies('POST', '/api/pages')[1]).toMatchObject({
    content: { kind: 'comparison', laid: { pieces: [1, 4, 5], models: false } },
  })
  session.value = null
})
