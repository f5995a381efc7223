import { describe, expect, test } from 'vitest'
import type { TrialOut } from '@/api/schema'
import { MARKS } from '@/parts/letters'
import { blankProtocol, decimal, draftOf, protocolOf, unreadable } from './protocol'
import { marksOf } from './trials'

describe('a protocol as it is typed', () => {
  test('a card test begins with the conditions of ISO 8442-5', () => {
    // 5 % silica card, 50 N, stroke 40 mm at 50 mm/s (from memory).
    expect(protocolOf(blankProtocol('card'), 'card')).toMatchObject({
      medium: '5 % silica card',
      load_n: 50,
      stroke_mm: 40,
      speed_mm_s: 50,
      kitchen: null,
    })
  })

  test('what is left open is not measured, never nought', () => {
    expect(protocolOf(blankProtocol('line cut' as never), 'line cut' as never)).toMatchObject({
      angle_per_side_deg: null,
      load_n: null,
    })
  })

  test('either decimal mark is read; what is no number is told by its label', () => {
    expect([decimal('15,5'), decimal(' 15.5 '), decimal('')]).toEqual([15.5, 15.5, NaN])
    const draft = { ...blankProtocol('card'), angle: 'fifteen', load: '', speed: '1,5' }
    expect(unreadable(draft)).toEqual(['angle'])
  })

  test('only a kitchen log has a kitchen', () => {
    const draft = { ...blankProtocol('kitchen'), use: 'professional' as const }
    expect(protocolOf(draft, 'kitchen').kitchen).toMatchObject({ use: 'professional' })
    expect(protocolOf(draft, 'card').kitchen).toBeNull()
  })

  test('one that is stated is typed again as it was', () => {
    const draft = { ...blankProtocol('card'), angle: '15.5', grit: '1000' }
    const stated = protocolOf(draft, 'card')
    expect(protocolOf(draftOf(stated, 'card'), 'card')).toEqual(stated)
  })
})

describe('the look of a trial on a chart', () => {
  const trial = (id: number, piece_id: number) => ({ id, piece_id }) as TrialOut

  test('a knife in hand keeps its own; others take what is free', () => {
    const marks = marksOf([trial(1, 40), trial(2, 7), trial(3, 41)], [7, 8])
    expect(marks).toEqual([MARKS[1], MARKS[0], MARKS[2]])
  })

  test('two trials of one knife are told apart', () => {
    const [one, other] = marksOf([trial(1, 7), trial(2, 7)], [7])
    expect(one).not.toEqual(other)
  })
})
