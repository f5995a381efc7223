import { describe, expect, test } from 'vitest'
import type { components } from '@/api/schema'
import { changed, isChanged, typedOf } from './mending'

const MODEL: components['schemas']['MendedModel'] = {
  id: 1,
  maker: 'Kesterby',
  line: 'Harbour',
  knife_type: 'gyuto',
  nominal_mm: 209.55,
  grind: 'full_flat',
  construction: 'one steel',
  finish: '',
  handle: '',
  steel: '1.4116',
  price: 240,
  gtin: '',
  even_machine_edge: false,
  retired: false,
  claims: [{ quantity: 'hardness', label: 'hardness', printed: '62 HRC' }],
  tags: ['A-1'],
  etag: '"x"',
}

describe('what is sent of an edited model', () => {
  test('is nothing where nothing was changed', () => {
    expect(isChanged(changed(MODEL, typedOf(MODEL), ' '))).toBe(false)
  })

  test('is what was changed, a price with a comma, and an emptied one as none', () => {
    const typed = { ...typedOf(MODEL), line: 'Quay', price: '199,50' }
    expect(changed(MODEL, typed, 'renamed')).toEqual({
      reason: 'renamed',
      line: 'Quay',
      price: '199.50',
    })
    expect(changed(MODEL, { ...typedOf(MODEL), price: '', steel: null }, '')).toEqual({
      reason: '',
      price: null,
      steel: null,
    })
  })

  test('is every claim once one of them is other; one without a figure is dropped', () => {
    const typed = typedOf(MODEL)
    typed.claims = [
      { quantity: 'hardness', printed: '61±1' },
      { quantity: 'weight', printed: ' ' },
    ]
    expect(changed(MODEL, typed, '').claims).toEqual([{ quantity: 'hardness', printed: '61±1' }])
  })
})
