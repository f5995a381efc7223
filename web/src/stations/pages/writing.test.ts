import { describe, expect, it } from 'vitest'
import type { PageRow, PartIn } from '@/api/schema'
import { inOrder, inserted, moved, standingText, unknownFigures } from './writing'

const part = (name: PartIn['part']): PartIn => ({ part: name, shown: true, text: null })

describe('a review in the making', () => {
  it('moves a part by one place and loses none at either end', () => {
    const parts = [part('glance'), part('hand'), part('value')]
    expect(moved(parts, 1, -1).map((p) => p.part)).toEqual(['hand', 'glance', 'value'])
    expect(moved(parts, 0, -1)).toEqual(parts)
    expect(moved(parts, 2, 1)).toEqual(parts)
  })

  it('puts a figure where the cursor stands', () => {
    expect(inserted('It weighs .', 'weight', 10, 10)).toBe('It weighs {weight}.')
    expect(inserted('It weighs much.', 'weight', 10, 14)).toBe('It weighs {weight}.')
  })

  it('finds figures that nobody knows, each once', () => {
    const text = '{weight} {wieght} {wieght} {not a key} {force.carrot.push}'
    expect(unknownFigures(text, ['weight', 'force.carrot.push'])).toEqual(['wieght'])
  })
})

describe('the list of pages', () => {
  const row = (id: number, on: boolean | null, changed_at: string): PageRow => ({
    ...{ id, kind: 'review', title: `${id}`, address: `a${id}`, person: 'Ada', changed_at },
    standing: on === null ? null : { on, at: changed_at, by: 'Ada', reason: '' },
  })

  it('has what stands first and what was withdrawn last', () => {
    const rows = [row(1, false, '4'), row(2, null, '3'), row(3, true, '1'), row(4, true, '2')]
    expect(inOrder(rows).map((r) => r.id)).toEqual([4, 3, 2, 1])
  })

  it('says in words where a page stands', () => {
    expect(standingText(null)).toContain('not published')
    expect(standingText(row(1, true, '1').standing, true)).toContain('changed since')
    expect(standingText(row(1, false, '1').standing)).toContain('Withdrawn')
  })
})
