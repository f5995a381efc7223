import { nextTick } from 'vue'
import { beforeEach, describe, expect, test, vi } from 'vitest'

/** The customer and the kitchen as a page that was just opened has them. */
async function visit() {
  vi.resetModules()
  const { kitchen } = await import('./kitchen')
  return { kitchen, ...(await import('./profile')) }
}

const KEPT = 'maple-rook.counter.2'

describe('the customer at the counter', () => {
  test('is kept across reloads', async () => {
    const { answer } = await visit()
    answer({ hand: 'left', budget: 40 })
    expect((await visit()).profile).toMatchObject({ hand: 'left', budget: 40, size: 'main' })
  })

  test('what this version does not know, or kept as something else, is forgotten', async () => {
    localStorage.setItem(KEPT, JSON.stringify({ hand: 3, wings: 'two', grip: 'handle' }))
    const { profile } = await visit()
    expect(profile).toMatchObject({ hand: 'right', grip: 'handle' })
    expect(profile).not.toHaveProperty('wings')
    localStorage.setItem(KEPT, 'no json')
    expect((await visit()).profile.hand).toBe('right')
  })

  test('an answer makes it nobody’s preset; the last label is remembered', async () => {
    const { answer, profile, lastLabel, startFrom } = await visit()
    startFrom({ label: 'galley', use: 'professional', shares: { tomato: 2 } } as never)
    expect([profile.label, profile.use, profile.hand]).toEqual(['galley', 'professional', 'right'])
    answer({ hand: 'left' })
    expect([profile.label, lastLabel.value]).toEqual(['', 'galley'])
  })

  test('a preset leaves nothing of the customer before', async () => {
    const { answer, profile, startFrom } = await visit()
    answer({ hand: 'left', shares: { onion: 3 } })
    startFrom({ label: 'home cook' } as never)
    expect([profile.hand, profile.shares]).toEqual(['right', {}])
  })
})

describe('the kitchen of every prediction is the customer’s', () => {
  test('an answer moves it, and honing goes by the tools', async () => {
    const { answer, kitchen } = await visit()
    answer({ use: 'professional', tools: 'neither' as never })
    expect(kitchen).toMatchObject({ use: 'professional', honed: false })
    answer({ tools: 'stones' })
    expect(kitchen.honed).toBe(true)
  })

  test('a kitchen changed elsewhere is the customer’s, who is then nobody’s preset', async () => {
    const { profile, kitchen, startFrom } = await visit()
    startFrom({ label: 'galley', use: 'professional' } as never)
    kitchen.use = 'home'
    await nextTick()
    expect([profile.use, profile.label]).toEqual(['home', ''])
  })

  test('it survives a reload; one that cannot be read is a home’s', async () => {
    const { kitchen } = await visit()
    kitchen.technique = 'careful'
    await nextTick()
    expect((await visit()).kitchen.technique).toBe('careful')
    localStorage.clear()
    localStorage.setItem('maple-rook.kitchen.2', '{')
    expect((await visit()).kitchen).toMatchObject({ use: 'home', edge: 'fresh' })
  })
})

beforeEach(() => vi.resetModules())
