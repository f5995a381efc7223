import { expect, test } from 'vitest'
import { firstSteps } from './hints'

test('an empty shop is told to enter a knife, and not to hang one', () => {
  const { steps } = firstSteps(0, 0, true)
  expect(steps).toHaveLength(1)
  expect(steps[0]).toMatch(/first knife/)
})

test('one knife can be hung and not yet compared', () => {
  expect(firstSteps(1, 0, true).steps[1]).toMatch(/second knife/)
  expect(firstSteps(1, 1, true).done).toBe(1)
})

test('the demo leads to the Bench at last; a shop of its own was there already', () => {
  expect(firstSteps(34, 0, false).steps).toHaveLength(3)
  expect(firstSteps(34, 2, false).done).toBe(2)
  expect(firstSteps(34, 2, true)).toMatchObject({ done: 2, steps: { length: 2 } })
})
