import { describe, expect, test } from 'vitest'
import { between, LEAST, orNone, typed, WHOLE } from './crop'

describe('a crop', () => {
  test('is what lies between two points, in whatever direction it was drawn', () => {
    expect(between([0.2, 0.3], [0.6, 0.9])).toEqual([0.2, 0.3, 0.4, 0.6])
    expect(between([0.6, 0.9], [0.2, 0.3])).toEqual([0.2, 0.3, 0.4, 0.6])
  })

  test('stays inside the picture and is never less than a tenth of a side', () => {
    expect(between([-1, 0.5], [2, 0.5])).toEqual([0, 0.5, 1, LEAST])
    const [left, , width] = between([0.99, 0], [0.98, 1])
    expect([left, width]).toEqual([0.9, 0.1])
  })

  test('can be typed: what was said stands, the rest gives way', () => {
    expect(typed(WHOLE, 0, 25)).toEqual([0.25, 0, 0.75, 1])
    expect(typed([0.5, 0, 0.5, 1], 2, 80)).toEqual([0.2, 0, 0.8, 1])
    expect(typed(WHOLE, 3, 2)).toEqual([0, 0, 1, LEAST])
    expect(typed(WHOLE, 1, Number.NaN)).toEqual(WHOLE)
    expect(typed(WHOLE, 1, 400)[1]).toBe(0.9)
  })

  test('of all of it is none', () => {
    expect(orNone(WHOLE)).toBeNull()
    expect(orNone([0, 0, 0.5, 1])).toEqual([0, 0, 0.5, 1])
  })
})
