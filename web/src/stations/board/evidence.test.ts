import { afterEach, beforeEach, expect, test, vi } from 'vitest'
import { evidenceId, pointAt } from './evidence'

beforeEach(() => vi.useFakeTimers())
afterEach(() => vi.useRealTimers())

test('a sentence leads to the first of its evidence that is on the page, and marks it a while', () => {
  document.body.innerHTML = `<p id="${evidenceId('force.onion.push')}"></p>`
  const shown = document.querySelector('p')!
  shown.scrollIntoView = vi.fn()
  expect(pointAt(['claim:hardness', 'force.onion.push'])).toBe(true)
  expect([shown.id, shown.className]).toEqual(['evidence-force-onion-push', 'pointed'])
  expect(shown.scrollIntoView).toHaveBeenCalled()
  vi.advanceTimersByTime(2500)
  expect(shown.className).toBe('')
})

test('where none is, it says so', () => expect(pointAt(['elsewhere'])).toBe(false))
