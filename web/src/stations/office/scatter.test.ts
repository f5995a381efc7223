import { expect, test } from 'vitest'
import { deviation, emptyGrid, isWhole, resized } from './scatter'

test('a deviation keeps two digits that count', () => {
  expect([0.04, 0.0173, 0.5, 1.25, 12, 0].map(deviation)).toEqual([
    '0.040',
    '0.017',
    '0.50',
    '1.3',
    '12',
    '0',
  ])
})

test('a grid that grows or shrinks keeps what was typed', () => {
  const grid = emptyGrid(2, 3, 3)
  grid[1]![2]![0] = '2.21'
  const larger = resized(grid, 3, 4, 3)
  expect(larger.map((person) => person.map((piece) => piece.length))).toEqual(
    Array.from({ length: 3 }, () => [3, 3, 3, 3]),
  )
  expect(larger[1]![2]![0]).toBe('2.21')
  expect(resized(larger, 2, 2, 2)[1]).toEqual([
    ['', ''],
    ['', ''],
  ])
})

test('a study is whole when nothing is left open', () => {
  const grid = emptyGrid(2, 2, 2)
  expect(isWhole(grid)).toBe(false)
  expect(isWhole(grid.map((of) => of.map((row) => row.map(() => '1'))))).toBe(true)
})
