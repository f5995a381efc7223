import { describe, expect, test } from 'vitest'
import type { QuantityOut, UnitOut } from '@/api/schema'
import cases from '@/testing/typed_readings.json'
import { general, typedReading } from './typed'

type Case = [key: string, text: string, unit: string, answer: Record<string, string | number>]

const units = cases.units as UnitOut[]
const type = cases.knife_type
const quantities = new Map(cases.quantities.map((q) => [q.key, q as unknown as QuantityOut]))
const read = (key: string, text: string, unit: string) =>
  typedReading(text, unit, { quantity: quantities.get(key)!, units, type })

describe('what is typed is understood as the server does', () => {
  test.each([...quantities.keys()])('%s', (key) => {
    const ours = (cases.cases as unknown as Case[]).filter(([of]) => of === key)
    expect(ours.length).toBeGreaterThan(1)
    for (const [of, text, unit, { value, base, half, ...words }] of ours) {
      const { value: v, base: b, half: h, ...w } = read(of, text, unit) as never as Case[3]
      const near = (number?: string | number) => number && expect.closeTo(number as number, 9)
      expect([text, w]).toEqual([text, words])
      expect([v, b, h]).toEqual([value, near(base), near(half)])
    }
  })

  // Exact by definition: 1 in = 25.4 mm, 1 lb = 16 oz (international yard and pound, 1959).
  test('inches with fractions, pounds with ounces, inclusive angles', () => {
    expect(read('edge_length', '9-5/8"', 'mm')).toMatchObject({ unit: 'in', base: 244.475 })
    expect(read('weight', '1 lb 3 oz', 'g')).toMatchObject({ unit: 'oz', value: 19 })
    expect(read('edge_angle', '30° incl', 'dps')).toMatchObject({ unit: 'incl', base: 15 })
  })
})

test('digits that say nothing are left out', () => {
  const texts = [0, 15, 0.1, 1234567, 0.00001234, 12.3456789, -2.5].map((v) => general(v))
  expect([1234.5, 1235.5, -2.0625].map((v) => general(v, 4))).toEqual(['1234', '1236', '-2.062'])
  expect(texts).toEqual(['0', '15', '0.1', '1.23457e+06', '1.234e-05', '12.3457', '-2.5'])
})
