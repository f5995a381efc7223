import { createPinia, setActivePinia } from 'pinia'
import { nextTick } from 'vue'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { mark, MARKS } from '@/parts/letters'
import { MOST_IN_HAND, useHand } from './store'

/** The strip of a page opened at an address. */
function opened(query = ''): ReturnType<typeof useHand> {
  history.replaceState(null, '', `/rack${query}`)
  setActivePinia(createPinia())
  return useHand()
}

beforeEach(() => opened())
afterEach(() => history.replaceState(null, '', '/'))

describe('knives are hung and taken off', () => {
  test('the one hung last is selected', () => {
    const hand = opened()
    expect([hand.hang(4), hand.hang(7)]).toEqual([true, true])
    expect([hand.ids, hand.selected]).toEqual([[4, 7], 7])
  })

  test('a knife hangs once', () => {
    const hand = opened('?hand=4.7')
    expect(hand.hang(4)).toBe(true)
    expect(hand.ids).toEqual([4, 7])
  })

  test('a seventh does not fit', () => {
    const hand = opened('?hand=1.2.3.4.5.6')
    expect(hand.hang(21)).toBe(false)
    expect(hand.toggle(21)).toBe(false)
    expect(hand.ids).toHaveLength(MOST_IN_HAND)
  })

  test('taking the selected one off selects the one before it, or none', () => {
    const hand = opened('?hand=1.2.3')
    hand.selected = 3
    hand.takeOff(3)
    expect(hand.selected).toBe(2)
    hand.toggle(2)
    hand.toggle(1)
    expect([hand.ids, hand.selected]).toEqual([[], null])
  })

  test('one moves to another place, the others move up', () => {
    const hand = opened('?hand=1.2.3')
    hand.move(1, 1)
    expect(hand.ids).toEqual([2, 1, 3])
  })

  test('a knife that no longer exists leaves', () => {
    const hand = opened('?hand=1.999999')
    hand.keep([1])
    expect(hand.asText()).toBe('1')
  })
})

describe('the hand survives a reload and travels in the link', () => {
  test('what was hung is there at the next visit', async () => {
    opened().hang(5)
    await nextTick()
    expect(opened().ids).toEqual([5])
  })

  test('the link wins over what the browser kept', async () => {
    opened().hang(5)
    await nextTick()
    expect(opened('?hand=1.4').ids).toEqual([1, 4])
  })

  test.each(['?hand=', '?hand=x.-1.0.2.5', '?hand=3.3.3', '?hand=1.2.3.4.5.6.7.8'])(
    'nonsense in a link is left out: %s',
    (query) => {
      const { ids } = opened(query)
      expect(ids.every((id) => Number.isInteger(id) && id > 0)).toBe(true)
      expect(new Set(ids).size).toBe(ids.length)
      expect(ids.length).toBeLessThanOrEqual(MOST_IN_HAND)
    },
  )
})

test('each of six knives has a letter, a hue and a line pattern of its own', () => {
  for (const of of ['letter', 'colour', 'dash'] as const) {
    expect(new Set(MARKS.map((m) => m[of])).size).toBe(MOST_IN_HAND)
  }
  expect(MARKS.map((m) => m.letter).join('')).toBe('ABCDEF')
  expect(mark(7)).toBe(MARKS[1])
})
