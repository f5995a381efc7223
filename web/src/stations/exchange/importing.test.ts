import { describe, expect, test } from 'vitest'
import type { ImportOut, MeaningOut } from '@/api/schema'
import { shop } from '@/testing/shop'
import {
  addedText,
  asGuessed,
  asked,
  comesIn,
  hand,
  isSaid,
  meaningsOf,
  originsOf,
} from './importing'

const column = (field: string, unit: string) => ({ field, unit, heading: field, samples: [] })
const FILE = {
  id: 'f',
  file: 'spring list.csv',
  source: '',
  tables: [
    {
      kind: 'pieces',
      decimals: ',',
      currencies: ['GBP'],
      columns: [column('tag', ''), column('weight', 'g')],
    },
    { kind: null, decimals: '.', currencies: ['GBP', 'CHF'], columns: [] },
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

  test('a rate is asked for each strange currency; without one its prices are left out', () => {
    const reading = asGuessed(FILE, '2026-11-20')
    expect(reading.rates).toEqual({ GBP: '', CHF: '' })
    reading.rates.GBP = '1.15'
    expect(asked(reading, false).rates).toEqual({ GBP: '1.15' })
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

describe('where figures come from', () => {
  const meanings = [
    { key: 'tag', units: [], kinds: ['pieces'], label: 'tag' },
    { key: 'nominal', units: ['mm'], kinds: ['pieces'], label: 'nominal' },
    { key: 'weight', units: ['g'], kinds: ['pieces'], label: 'weight' },
  ] as unknown as MeaningOut[]

  test('is asked of pieces with figures and of readings, which nobody prints', () => {
    const [pieces] = asGuessed(FILE, '2026-11-20').tables
    expect(originsOf(pieces!, meanings)).toEqual(['ours', 'measured', 'printed'])
    expect(originsOf({ ...pieces!, kind: 'readings' }, meanings)).toEqual(['ours', 'measured'])
    expect(originsOf({ ...pieces!, kind: 'models' }, meanings)).toEqual([])
    const bare = { ...pieces!, columns: [{ field: 'nominal', unit: '' }] }
    expect(originsOf(bare, meanings)).toEqual([])
  })

  test('has to be said before anything is tried', () => {
    const reading = asGuessed(FILE, '2026-11-20')
    expect(isSaid(reading, meanings)).toBe(false)
    reading.tables[0]!.origin = 'printed'
    expect(isSaid(reading, meanings)).toBe(true)
  })
})

test('a row with a figure missing comes in too', () => {
  expect(comesIn({ accepted: 1, partly: 2, refused: 4, known: 8 })).toBe(3)
})
