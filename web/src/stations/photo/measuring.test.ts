import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { flushPromises, mount, type VueWrapper } from '@vue/test-utils'
import { defineComponent, h } from 'vue'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { shop } from '@/testing/shop'
import { usePhotos } from './measuring'

const SIDE = { id: 1, view: 'side' }
const HEEL = { id: 2, view: 'heel' }

let page: VueWrapper
let photos: ReturnType<typeof usePhotos>

async function visit(list: object[] = [SIDE, HEEL]): Promise<void> {
  shop.when('GET', '/api/photos', { body: list })
  shop.when('POST', '/api/photos/1/measure', { body: { card: { label: 'A4' } } })
  shop.when('POST', '/api/photos/2/measure', { body: { card: { label: 'heel' } } })
  const queryClient = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  const component = defineComponent({
    setup() {
      photos = usePhotos(7)
      return () => h('div')
    },
  })
  page = mount(component, { global: { plugins: [[VueQueryPlugin, { queryClient }]] } })
  await flushPromises()
}

const asked = (id = 1) => shop.bodies('POST', `/api/photos/${id}/measure`).at(-1)

beforeEach(() => visit())
afterEach(() => page.unmount())

test('the photo of a view is measured as it is looked at', async () => {
  expect([photos.photo.value?.id, asked()]).toEqual([1, { stand_off_mm: 0, at_mm: [] }])
  photos.view.value = 'heel'
  await flushPromises()
  expect([photos.photo.value?.id, photos.found.value?.card?.label]).toEqual([2, 'heel'])
})

describe('points that a person moves', () => {
  test('are measured with, survive a reload, and can be forgotten', async () => {
    photos.movePoints({ tip: [900, 300] })
    photos.movePoints({ 'edge.2': [400, 310] })
    await flushPromises()
    const edge = [null, null, [400, 310], null, null, null, null]
    expect(asked()).toMatchObject({ points: { tip: [900, 300], edge } })
    page.unmount()
    await visit()
    expect(asked()).toMatchObject({ points: { tip: [900, 300], edge } })
    photos.movePoints(null)
    await flushPromises()
    expect(asked()).toMatchObject({ points: null })
  })

  test('are forgotten with a known length: without a card they mean something else', async () => {
    photos.movePoints({ tip: [900, 300] })
    photos.setKnown({ mm: 210, points: [] } as never)
    expect(photos.how.value).toMatchObject({ points: null, known: { mm: 210 } })
  })
})

test('what the ruler line measures is known of every photo on that card', async () => {
  photos.setRuler(99.8)
  await flushPromises()
  expect(asked()).toMatchObject({ ruler_mm: 99.8 })
  page.unmount()
  localStorage.removeItem('maple-rook.photo.1')
  await visit()
  await flushPromises()
  expect(asked()).toMatchObject({ ruler_mm: 99.8 })
  photos.setRuler(null)
  await flushPromises()
  expect(asked()).toMatchObject({ ruler_mm: null })
})

test('an upload goes as it is, and is looked at; one that is discarded leaves nothing', async () => {
  shop.when('POST', '/api/photos', { status: 201, body: { id: 3, view: 'side' } })
  shop.when('POST', '/api/photos/3/measure', { body: {} })
  await photos.upload.mutateAsync(new Blob(['jpeg'], { type: 'image/jpeg' }))
  const [sent] = shop.of('POST', '/api/photos')
  expect(sent?.query.get('sheet_id')).toBe('7')
  expect(sent?.headers.get('Content-Type')).toBe('image/jpeg')
  expect(photos.photo.value?.id).toBe(3)
  localStorage.setItem('maple-rook.photo.3', '{}')
  shop.when('DELETE', '/api/photos/3', { body: [SIDE, HEEL] })
  await photos.discard.mutateAsync(3)
  await flushPromises()
  expect(photos.photo.value?.id).toBe(1)
  expect(localStorage.getItem('maple-rook.photo.3')).toBeNull()
})

test('an acceptance sent again after a lost answer is the same one; a changed one is not', async () => {
  const path = '/api/photos/1/accept'
  const ids = () => shop.bodies('POST', path).map((b) => b.client_id)
  shop.when('POST', path, 'unreachable')
  const wanted = { quantities: ['edge_length' as const], keepEdge: true }
  await photos.accept.mutateAsync(wanted).catch(() => undefined)
  shop.when('POST', path, { body: {} })
  await photos.accept.mutateAsync(wanted)
  await photos.accept.mutateAsync({ ...wanted, keepEdge: false })
  expect(ids()[0]).toBe(ids()[1])
  expect(ids()[2]).not.toBe(ids()[1])
})
