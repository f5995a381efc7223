import { afterEach, beforeEach, expect, test, vi } from 'vitest'
import { shop } from '@/testing/shop'
import { keepRepairPhoto, keepPhoto } from './photo'

let drawn: number[] = []

beforeEach(() => {
  vi.stubGlobal('createImageBitmap', async () => ({ width: 4000, height: 3000 }))
  vi.stubGlobal(
    'OffscreenCanvas',
    class {
      constructor(
        readonly width: number,
        readonly height: number,
      ) {
        drawn = [width, height]
      }
      getContext = () => ({ drawImage: vi.fn() })
      convertToBlob = async ({ type }: { type: string }) => new Blob(['small'], { type })
    },
  )
})
afterEach(() => vi.unstubAllGlobals())

test('a picture is made small enough to keep and stored once, under an id made here', async () => {
  shop.when('PUT', '/api/*', { body: { id: 12 } })
  const file = new File(['large'], 'spine.png', { type: 'image/png' })
  expect(await keepPhoto(7, file)).toBe(12)
  expect(drawn).toEqual([1600, 1200])
  expect(await keepRepairPhoto(3, file)).toBe(12)
  const [sheet, repair] = shop.asked
  expect(sheet?.path).toMatch(/^\/api\/bench\/sheets\/7\/photos\/[0-9a-f-]{36}$/)
  expect(repair?.path).toMatch(/^\/api\/upkeep\/repairs\/3\/photos\/[0-9a-f-]{36}$/)
  expect([sheet?.headers.get('Content-Type'), sheet?.body]).toEqual(['image/jpeg', 'small'])
})
