import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest'
import { nextTick } from 'vue'
import { createPinia, setActivePinia } from 'pinia'
import { session } from '@/api/session'
import { newId } from '@/api/id'
import { useWhy } from './why'
import { needs } from './needs'
import { CARD_MM } from './life'

describe('life size', () => {
  const visit = async () => {
    vi.resetModules()
    return import('./life')
  }

  test('is matched once against a card, then known on this screen', async () => {
    const first = await visit()
    expect([first.matched.value, first.pxPerMm.value]).toEqual([false, 96 / 25.4])
    first.switchLifeSize()
    expect([first.lifeSize.value, first.matching.value]).toEqual([true, true])
    first.pxPerMm.value = 3.2
    await nextTick()
    const later = await visit()
    later.switchLifeSize()
    expect([later.pxPerMm.value, later.matching.value]).toEqual([3.2, false])
    later.switchLifeSize()
    expect(later.lifeSize.value).toBe(false)
  })

  test('the card is as wide as ISO/IEC 7810 has an ID-1 card', () => {
    expect(CARD_MM).toBe(85.6)
  })
})

describe('ids are random UUIDs of version 4 (RFC 9562)', () => {
  const V4 = /^[0-9a-f]{8}-[0-9a-f]{4}-4[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/
  afterEach(() => vi.unstubAllGlobals())

  test('from the browser', () => expect(newId()).toMatch(V4))

  test('made here where a page came unencrypted', () => {
    const own = { getRandomValues: crypto.getRandomValues.bind(crypto) }
    vi.stubGlobal('crypto', own)
    const made = Array.from({ length: 50 }, newId)
    expect(made.every((id) => V4.test(id))).toBe(true)
    expect(new Set(made).size).toBe(50)
  })
})

test('what one may not do is not there', async () => {
  const element = document.createElement('button')
  const { mounted, unmounted } = needs as Record<string, (e: HTMLElement, b: object) => void>
  mounted!(element, { value: 'measure' })
  expect(element.hidden).toBe(true)
  session.value = { me: { id: 1, may: ['measure'] } } as never
  await nextTick()
  expect(element.hidden).toBe(false)
  unmounted!(element, {})
  session.value = null
  await nextTick()
  expect(element.hidden).toBe(false)
})

describe('why this number', () => {
  beforeEach(() => setActivePinia(createPinia()))

  test('one is open at a time, with the knife it belongs to', () => {
    const why = useWhy()
    why.explain({ key: 'cutting_ease' } as never, 'KH-01')
    why.explain({ key: 'release' } as never, 'DG-20')
    expect([why.prediction?.key, why.knife]).toEqual(['release', 'DG-20'])
    why.close()
    expect(why.prediction).toBeNull()
  })
})
