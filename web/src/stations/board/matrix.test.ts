import { describe, expect, test } from 'vitest'
import type { Difference } from '@/api/schema'
import { matrixOf, pairAt, pairText } from './matrix'

const figure = (mean: number) => ({ mean, expanded: 1 }) as Difference['values'][number]
const weight: Difference = {
  key: 'weight',
  label: 'weight',
  unit: 'g',
  grade: 'M',
  values: [figure(150), figure(200), null, figure(201)],
  verdict: 'noticeable',
  pairs: ['noticeable', null, 'noticeable', null, 'not_measurable', null],
  weight: 3,
  largest: '',
}

describe('every pair of knives', () => {
  test('pairs stand one knife after the other', () => {
    const places = [
      [0, 1],
      [0, 2],
      [0, 3],
      [1, 2],
      [1, 3],
      [2, 3],
    ].map(([i = 0, j = 0]) => pairAt(i, j, 4))
    expect(places).toEqual([0, 1, 2, 3, 4, 5])
    expect(pairAt(3, 1, 4)).toBe(pairAt(1, 3, 4))
  })

  test('the knife of the row against that of the column, in per cent of the column', () => {
    const cells = matrixOf(weight)
    expect(cells[1]?.[0]).toEqual({ by: '+50', percent: '+33 %', verdict: 'noticeable' })
    expect(cells[0]?.[1]).toEqual({ by: '−50', percent: '−25 %', verdict: 'noticeable' })
    expect(cells[3]?.[1]).toEqual({ by: '+1.0', percent: '+1 %', verdict: 'not_measurable' })
    expect([cells[0]?.[0], cells[2]?.[0], cells[0]?.[2]]).toEqual([null, null, null])
  })

  test('a pair is said with its base, hardness without one', () => {
    const [, [cell] = []] = matrixOf(weight)
    expect(cell && pairText(weight, cell, 'B', 'A')).toBe(
      'weight: B against A +50 g (+33 % of A), real, and noticeable at the board.',
    )
    const hardness = { ...weight, key: 'hardness', label: 'hardness', unit: 'HRC' }
    const [, [hard] = []] = matrixOf(hardness)
    expect(hard && pairText(hardness, hard, 'B', 'A')).toContain('+50 HRC, real')
  })
})
