import { afterEach, beforeEach, expect, test, vi } from 'vitest'
import { profile } from '@/parts/profile'
import { setRods, stateMark, timeText, todayIso } from './care'
import { dayText } from '@/parts/moments'

beforeEach(() => vi.useFakeTimers({ now: new Date(2026, 0, 5, 23, 30) }))
afterEach(() => vi.useRealTimers())

test('days and hours as people write them', () => {
  expect(dayText('2026-11-06')).toBe('6 Nov 2026')
  expect(dayText('2026-11-06T23:59:00Z')).toBe('6 Nov 2026')
  expect([5.4, 59.6, 85, 120].map(timeText)).toEqual([
    '5 min',
    '1 h 0 min',
    '1 h 25 min',
    '2 h 0 min',
  ])
})

test('today is today by the clock on the wall, also late in the evening', () => {
  expect(todayIso()).toBe('2026-01-05')
})

test('what is due has a sign beside its word', () => {
  expect((['rests', 'due', 'overdue'] as const).map(stateMark)).toEqual(['', '●', '⚠'])
})

test('the school of rods is the customer’s', () => {
  setRods('light')
  expect(profile.rods).toBe('light')
})
