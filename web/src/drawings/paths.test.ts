import { describe, expect, test } from 'vitest'
import { contactAt, extent, linePath, polygonPath, rockedBy, roundedPath } from './paths'

const SQUARE = [
  [0, 0],
  [10, 0],
  [10, 10],
  [0, 10],
] as const

test('millimetres go up, the page goes down', () => {
  expect(polygonPath(SQUARE)).toBe('M0 0L10 0L10 -10L0 -10Z')
  expect(linePath([[0, 1.23456], [2, -3]])).toBe('M0 -1.23L2 3') // prettier-ignore
  expect(polygonPath([])).toBe('')
})

describe('rounded corners', () => {
  test('stay within the polygon and on its sides', () => {
    const path = roundedPath(SQUARE, 2)
    expect(path.match(/Q/g)).toHaveLength(4)
    expect(path.startsWith('M0 -2Q0 0 2 0')).toBe(true)
  })

  test('are as large as short sides allow', () => {
    expect(roundedPath(SQUARE, 100)).toContain('4.55 0')
    expect(roundedPath(SQUARE.slice(0, 2), 2)).toBe('M0 0L10 0Z')
  })
})

test('an outline occupies what blade and handle do', () => {
  const outline = { blade: [[0, 0], [210, 46]], handle: [[-130, 20], [0, 44]] } // prettier-ignore
  expect(extent(outline as never)).toEqual({ left: -130, right: 210, top: 46, bottom: 0 })
})

describe('rocking', () => {
  // (raise °, contact x, y): the contact runs forward as the handle comes up.
  const rock = [[0, 60, 0], [5, 120, 1], [10, 180, 6]] as const // prettier-ignore

  test.each([
    [0, [60, 0]],
    [2.5, [90, 0.5]],
    [10, [180, 6]],
    [40, [180, 6]], // the tip has dug in
  ])('raised by %d° it touches at %j', (raise, at) => {
    expect(contactAt(rock, raise)).toEqual(at)
  })

  test('a knife without a traced edge touches at its heel', () => {
    expect(contactAt([], 5)).toEqual([0, 0])
  })

  test('the knife turns about its contact, which is set on the board', () => {
    expect(rockedBy([90, 0.5], 2.5)).toBe('translate(0 0.5) rotate(2.5 90 -0.5)')
  })
})
