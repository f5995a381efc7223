import { expect, test } from 'vitest'
import { endOffsets, wholeTop } from './chart'

test('labels at the ends of lines keep apart, in order and within the plot', () => {
  const ends = [5.1, 5, 14, 12, 0.1, 0]
  const offsets = endOffsets(ends, 20, 200)
  const at = ends.map((value, i) => 200 * (1 - value / 20) + offsets[i]!)
  const sorted = [...at].sort((a, b) => a - b)
  for (let i = 1; i < sorted.length; i++) expect(sorted[i]! - sorted[i - 1]!).toBeGreaterThan(13)
  expect(Math.max(...at)).toBeLessThanOrEqual(200)
  expect(at[0]).toBeLessThan(at[1]!)
  expect(offsets[2]).toBe(0) // far from the others: it stays at its line
})

test.each([
  [0, 1],
  [0.93, 1],
  [21, 25],
  [48, 50],
  [104, 125],
])('an axis for %d ends at the whole tick %d', (value, top) => {
  expect(wholeTop(value)).toBe(top)
})
