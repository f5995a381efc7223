import { api, data } from '@/api/client'
import type { ChoicesIn, ImportOut, MeaningOut, RowVerdict, TableOut } from '@/api/schema'

export type KindOfRows = NonNullable<TableOut['kind']>
export type Origin = NonNullable<TableOut['origin']>
type TableIn = ChoicesIn['tables'][number]

/** A table as the person at the screen reads it; it starts as the server's guess. */
export interface TableRead {
  kind: KindOfRows | ''
  origin: Origin | ''
  decimals: TableOut['decimals']
  columns: { field: string; unit: string }[]
}

export interface Reading {
  source: string
  measured_on: string
  doubtful: ChoicesIn['doubtful']
  changed: ChoicesIn['changed']
  tables: TableRead[]
  /** By currency, as typed: what one of it is in the shop's; empty leaves its prices out. */
  rates: Record<string, string>
}

export const KINDS: Record<KindOfRows, string> = {
  basics: 'grades, foods, instruments of another shop',
  models: 'models, as a maker’s list has them',
  claims: 'claims, one a row',
  pieces: 'pieces, with what was measured of each',
  readings: 'readings, one a row',
  profiles: 'points of traced edges',
  trials: 'points of edge trials',
  rest: 'what was seen, photos, plans and repairs of another shop',
}

export const VERDICTS: Record<RowVerdict, { mark: string; tone: string; about: string }> = {
  accepted: { mark: '✓', tone: 'grade-M', about: 'as they stand' },
  corrected: { mark: '✎', tone: 'grade-G', about: 'read with a correction, which is shown' },
  doubtful: { mark: '?', tone: 'grade-P', about: 'unusual, or different from the record' },
  partly: {
    mark: '½',
    tone: 'rust',
    about: 'imported without what cannot be read',
  },
  refused: { mark: '⚠', tone: 'rust', about: 'the whole row is skipped' },
  known: { mark: '=', tone: 'soft', about: 'in the record; nothing to do' },
}

/** A file as it is guessed, ready to be changed. */
export function asGuessed(file: ImportOut, today: string): Reading {
  return {
    source: file.source || file.file.replace(/\.\w+$/, '').slice(0, 80),
    measured_on: today,
    doubtful: 'leave',
    changed: 'leave',
    rates: Object.fromEntries(currenciesOf(file).map((currency) => [currency, ''])),
    tables: file.tables.map((table) => ({
      kind: table.kind ?? '',
      origin: table.origin ?? '',
      decimals: table.decimals,
      columns: table.columns.map(({ field, unit }) => ({ field, unit })),
    })),
  }
}

/** The currencies of a file's prices that are not the shop's. */
export function currenciesOf(file: ImportOut): string[] {
  return [...new Set(file.tables.flatMap((table) => table.currencies))]
}

export function asked(reading: Reading, for_good: boolean): ChoicesIn {
  const given = Object.entries(reading.rates).filter(([, rate]) => Number(rate) > 0)
  return {
    ...reading,
    rates: Object.fromEntries(given),
    source: reading.source.trim(),
    for_good,
    tables: reading.tables.map(({ kind, origin, ...rest }): TableIn => ({
      ...rest,
      kind: kind || null,
      origin: origin || null,
    })),
  }
}

export const ORIGINS: Record<Origin, string> = {
  ours: 'measured here, with our usual instruments',
  measured: 'measured, instruments not known',
  printed: 'printed by a maker or dealer',
}

/** Where figures of a table may come from; none where its rows have none that could be readings. */
export function originsOf(read: TableRead, meanings: MeaningOut[]): Origin[] {
  if (read.kind === 'readings') return ['ours', 'measured']
  const figures = meanings.filter((m) => m.units.length && !m.key.startsWith('claim:'))
  const isFigure = (key: string) => figures.some((m) => m.key === key && key !== 'nominal')
  const asks = read.kind === 'pieces' && read.columns.some((c) => isFigure(c.field))
  return asks ? ['ours', 'measured', 'printed'] : []
}

/** Whether everything is said that only a person knows. */
export function isSaid(reading: Reading, meanings: MeaningOut[]): boolean {
  return reading.tables.every((table) => {
    const origins = originsOf(table, meanings)
    return !origins.length || origins.some((origin) => origin === table.origin)
  })
}

/** How much of a tried file would come in, in rows. */
export function comesIn(counts: Partial<Record<RowVerdict, number>>): number {
  const some: RowVerdict[] = ['accepted', 'corrected', 'doubtful', 'partly']
  return some.reduce((sum, verdict) => sum + (counts[verdict] ?? 0), 0)
}

/** What columns of a kind can mean, the knife's own words first, then measured, then claimed. */
export function meaningsOf(
  all: MeaningOut[],
  kind: KindOfRows | '',
): { name: string; meanings: MeaningOut[] }[] {
  const fitting = all.filter((m) => kind && m.kinds.includes(kind))
  const measured = (m: MeaningOut) => m.units.length > 0 && !m.key.startsWith('claim:')
  const claimed = (m: MeaningOut) => m.key.startsWith('claim:')
  return [
    { name: 'the row', meanings: fitting.filter((m) => !measured(m) && !claimed(m)) },
    { name: 'measured', meanings: fitting.filter(measured) },
    { name: 'claimed', meanings: fitting.filter(claimed) },
  ].filter((group) => group.meanings.length)
}

export function hand(file: File): Promise<ImportOut> {
  return data(
    api.POST('/api/imports', {
      params: { query: { name: file.name.slice(0, 200) } },
      body: file as never,
      bodySerializer: (body) => body as never,
      headers: { 'Content-Type': 'application/octet-stream' },
    }),
  )
}

/** What was added, in words: 24 models, 34 pieces. */
export function addedText(added: Record<string, number>): string {
  const said = Object.entries(added).map(([what, n]) => `${n} ${n === 1 ? singular(what) : what}`)
  return said.join(', ') || 'nothing new'
}

function singular(what: string): string {
  return what.replace(/s$/, '')
}
