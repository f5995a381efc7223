import { describe, expect, test, vi } from 'vitest'
import cases from '@/testing/typed_readings.json'
import {
  ago,
  simulationsText,
  decimalsFor,
  expandedText,
  likelyText,
  meanText,
  otherText,
  rangeText,
  ratioText,
  rounded,
  unitText,
} from './numbers'

describe('only the digits that an interval supports', () => {
  test.each([
    [0.02, 3],
    [0.3, 1],
    [2.4, 1],
    [7, 0],
    [60, -1],
    [1e9, -3],
    [1e-9, 4],
    [0, 2],
    [NaN, 2],
    [Infinity, 2],
  ])('an interval %d wide has %d decimals', (width, decimals) => {
    expect(decimalsFor(width)).toBeCloseTo(decimals)
  })

  test('"predicted 20 to 27, likely 23" is not 23.41', () => {
    const force = { central: 23.41, low: 19.8, high: 26.9 }
    expect(rangeText(force)).toBe('20 to 27')
    expect(likelyText(force)).toBe('23')
  })

  test('a mean and its U have the same digits', () => {
    const weight = { mean: 186.9531, expanded: 0.62 }
    expect([meanText(weight), expandedText(weight)]).toEqual(['187.0', '0.6'])
  })

  test('a wide one is rounded to tens', () => {
    expect(rangeText({ low: 157, high: 282 })).toBe('160 to 280')
  })
})

test('a minus is a minus sign, and nothing is minus nought', () => {
  expect(rounded(-3.25, 1)).toBe('−3.2')
  expect(rounded(-0.04, 1)).toBe('0.0')
})

test('a share of the draws is never 0 or 100 %', () => {
  expect([0, 0.004, 0.5, 0.996, 1].map(simulationsText)).toEqual([
    'fewer than 1 of 100',
    'fewer than 1 of 100',
    '50 of 100',
    'more than 99 of 100',
    'more than 99 of 100',
  ])
})

test('the other system with the digits its uncertainty supports', () => {
  expect(otherText({ mean: 8.25, expanded: 0.02, unit: 'in' })).toBe('8.25 in')
  expect(otherText({ mean: 0.0835, expanded: 0.0008, unit: 'in' })).toBe('0.0835 in')
  expect(otherText({ mean: 30.2, expanded: 1.4, unit: 'incl' })).toBe('30° incl')
  expect(otherText(null)).toBe('')
})

test('ratios name the right-hand face first', () => {
  expect(ratioText(70)).toBe('70:30')
  expect(ratioText(33.4)).toBe('33:67')
})

test('units as people read them', () => {
  expect(['dps', 'um', '%', 'mm'].map(unitText)).toEqual(['°/side', 'µm', '% right', 'mm'])
})

test('how long ago, in one or two words', () => {
  vi.useFakeTimers({ now: new Date('2026-11-20T12:00:00Z') })
  const moments = ['11:57', '11:20', '03:00'].map((time) => `2026-11-20T${time}:00Z`)
  expect([...moments, '2026-11-17T12:00:00Z'].map(ago)).toEqual([
    'just now',
    '40 min ago',
    '9 h ago',
    '3 d ago',
  ])
  vi.useRealTimers()
})

test.each(cases.ranges as [number, number, number, string][])(
  '%d between %d and %d reads as the server writes it',
  (central, low, high, written) => {
    const shown = `${rangeText({ low, high })} , likely ${likelyText({ central, low, high })}`
    expect(shown.replace(' ,', ',')).toBe(written)
  },
)
