import { expect, test } from 'vitest'
import { named } from './named'

const STEELS = [
  { value: '1.4116', title: '1.4116', names: ['X50CrMoV15'] },
  { value: '1.2519', title: '1.2519' },
]

test('a grade typed by any of its names is that grade, whatever its capitals and blanks', () => {
  expect(named(STEELS, ' x50crmov15 ')?.value).toBe('1.4116')
  expect(named(STEELS, '1.2519')?.value).toBe('1.2519')
})

test('half a name or none is no choice', () => {
  expect(named(STEELS, '1.41')).toBeUndefined()
  expect(named(STEELS, ' ')).toBeUndefined()
})
