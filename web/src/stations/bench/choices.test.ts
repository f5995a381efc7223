import { describe, expect, test } from 'vitest'
import type { ItemOut } from '@/api/schema'
import { aspectsText, understood } from './choices'

const listed = <K extends string>(...keys: K[]) =>
  keys.map((key) => ({ key, label: key.replaceAll('_', ' ') }))
const ITEM: ItemOut = {
  key: 'spine_corners',
  label: 'spine corners',
  stop: 'finish',
  method: '',
  choices: listed('fine', 'minor', 'mend', 'reject', 'unsafe'),
  aspects: listed('left', 'right'),
  required: false,
  multiple: false,
  photo: true,
  free: false,
}
const LISTED = 'a number from 1 to 5, or the words of a choice'
const of = (item: Partial<ItemOut>, text: string) => understood({ ...ITEM, ...item }, text)

describe('a choice is understood', () => {
  test.each<[string, Partial<ItemOut>, string, string, string]>([
    ['2', {}, 'minor', 'left', ''],
    ['2r', {}, 'minor', 'right', ''],
    ['3 l, sharp where the finger pinches', {}, 'mend', 'left', 'sharp where the finger pinches'],
    ['1 3', { multiple: true }, 'fine,mend', 'left', ''],
    ['1+3, down to the shinogi', { multiple: true }, 'fine,mend', 'left', 'down to the shinogi'],
    ['  4 ', { aspects: listed('') }, 'reject', '', ''],
    ['2, 3 places, one deep', {}, 'minor', 'left', '3 places, one deep'],
    ['minor', {}, 'minor', 'left', ''],
    ['Reject r, chip', {}, 'reject', 'right', 'chip'],
    ['mend right', {}, 'mend', 'right', ''],
    ['fine + unsafe', { multiple: true }, 'fine,unsafe', 'left', ''],
    [
      'forge-black',
      { choices: listed('polished', 'forge_black', 'none') },
      'forge_black',
      'left',
      '',
    ],
    ['none', { choices: listed('polished', 'forge_black', 'none') }, 'none', 'left', ''],
    ['rej', {}, 'reject', 'left', ''],
  ])('%s', (typed, item, value, aspect, note) => {
    expect(of(item, typed)).toEqual({ value, aspect, note })
  })

  test('where words are asked, they are taken as they stand', () => {
    expect(of({ free: true }, ' ease the spine, then re-check ')).toEqual({
      value: '',
      aspect: '',
      note: 'ease the spine, then re-check',
    })
  })
})

describe('what is none is told by what would be', () => {
  test.each([
    ['9', LISTED],
    ['0', LISTED],
    ['1 2', 'one number'],
    ['one', LISTED],
    ['-1', LISTED],
    ['m', LISTED], // minor or mend
    ['minor and mend', LISTED],
    ['', LISTED],
    ['1x', 'no side or stroke “x”; l left, r right'],
  ])('%s: %s', (typed, accepted) => {
    expect(of({}, typed)).toBe(accepted)
  })

  test('a side where there are none', () => {
    expect(of({ aspects: listed('') }, '1r')).toBe('no side or stroke “r”; ')
    expect(aspectsText(ITEM)).toBe('l left, r right')
  })
})
