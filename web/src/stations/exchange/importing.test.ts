import { describe, expect, test } from 'vitest'
import type { ImportOut, MeaningOut } from '@/api/schema'
import { shop } from '@/testing/shop'
import { addedText, asGuessed, asked, hand, meaningsOf } from './importing'

const column = (field: string, unit: string) => ({ field, unit, heading: field, samples: [] })
const FILE = {
  id: 'f',
  file: 'spring list.csv',
  source: '',
  tables: [
    { kind: 'pieces', decimals: ',', columns: [column('tag', ''), column('weight', 'g')] },
    { kind: null, decimals: '.', columns: [] },
  ],
} as unknown as ImportOut

describe('a file is read as it was guessed, until somebody says otherwise', () => {
  test('the guess, under the name of the file where no source is known', () => {
    const reading = asGuessed(FILE, '2026-11-20')
    expect(reading).toMatchObject({
      source: 'spring list',
      measured_on: '2026-11-20',
      doubtful: 'leave',
      changed: 'leave',
    })
    expect(reading.tables[0]?.columns).toEqual([
      { field: 'tag', unit: '' },
      { field: 'weight', unit: 'g' },
    ])
    expect(asGuessed({ ...FILE, source: 'a friend' }, '2026-11-20').source).toBe('a friend')
  })

  test('what is asked says whether it is for good; a table of no kind is left out by the server', () => {
    const reading = { ...asGuessed(FILE, '2026-11-20'), source: '  a friend ' }
    const tried = asked(reading, false)
    expect([tried.source, tried.for_good]).toEqual(['a friend', false])
    expect(tried.tables.map((t) => t.kind)).toEqual(['pieces', null])
  })

  test('changing the reading leaves the file alone', () => {
    const reading = asGuessed(FILE, '2026-11-20')
    reading.tables[0]!.columns[1]!.unit = 'oz'
    expect(FILE.tables[0]?.columns[1]?.unit).toBe('g')
  })
})

test('meanings come in groups: the row, measured, claimed; none for rows of no kind', () => {
  const meaning = (key: string, units: string[], kinds: string[]) =>
    ({ key, units, kinds, label: key }) as unknown as MeaningOut
  const all = [
    meaning('tag', [], ['pieces']),
    meaning('weight', ['g'], ['pieces', 'readings']),
    meaning('claim:weight', ['g'], ['pieces']),
    meaning('day', [], ['trials']),
  ]
  const names = (kind: 'pieces' | 'readings' | '') =>
    meaningsOf(all, kind).map((g) => [g.name, g.meanings.map((m) => m.key)])
  expect(names('pieces')).toEqual([
    ['the row', ['tag']],
    ['measured', ['weight']],
    ['claimed', ['claim:weight']],
  ])
  expect(names('readings')).toEqual([['measured', ['weight']]])
  expect(names('')).toEqual([])
})

test('what was added, in words', () => {
  expect(addedText({ models: 1, pieces: 34 })).toBe('1 model, 34 pieces')
  expect(addedText({})).toBe('nothing new')
})

test('a file goes as it is, under its name', async () => {
  shop.when('POST', '/api/imports', { status: 201, body: FILE })
  await hand(new File(['No.;Wt\nSP-1;186'], 'x'.repeat(300)))
  const [sent] = shop.of('POST', '/api/imports')
  expect(sent?.query.get('name')).toHaveLength(200)
  expect(sent?.headers.get('Content-Type')).toBe('application/octet-stream')
  expect(sent?.body).toBe('No.;Wt\nSP-1;186')
})
