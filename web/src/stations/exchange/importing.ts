import { api, data } from '@/api/client'
import type { ChoicesIn, ImportOut, MeaningOut, RowVerdict, TableOut } from '@/api/schema'

export type KindOfRows = NonNullable<TableOut['kind']>
type TableIn = ChoicesIn['tables'][number]

/** A table as the person at the screen reads it; it starts as the server's guess. */
export interface TableRead {
  kind: KindOfRows | ''
  decimals: TableOut['decimals']
  columns: { field: string; unit: string }[]
}

export interface Reading {
  source: string
  measured_on: string
  doubtful: ChoicesIn['doubtful']
  changed: ChoicesIn['changed']
  tables: TableRead[]
}

export const KINDS: Record<KindOfRows, string> = {
  models: 'models, as a maker’s list has them',
  claims: 'claims, one a row',
  pieces: 'pieces, with what was measured of each',
  readings: 'readings, one a row',
  profiles: 'points of traced edges',
  trials: 'points of edge trials',
}

export const VERDICTS: Record<RowVerdict, { mark: string; tone: string; about: string }> = {
  accepted: { mark: '✓', tone: 'grade-M', about: 'as they stand' },
  corrected: { mark: '✎', tone: 'grade-G', about: 'read with a change, which is said' },
  doubtful: { mark: '?', tone: 'grade-P', about: 'unusual, or other than the record' },
  refused: { mark: '⚠', tone: 'rust', about: 'left out, wholly or in part' },
  known: { mark: '=', tone: 'soft', about: 'in the record; nothing to do' },
}

/** A file as it is guessed, ready to be changed. */
export function asGuessed(file: ImportOut, today: string): Reading {
  return {
    source: file.source || file.file.replace(/\.\w+$/, '').slice(0, 80),
    measured_on: today,
    doubtful: 'leave',
    changed: 'leave',
    tables: file.tables.map((table) => ({
      kind: table.kind ?? '',
      decimals: table.decimals,
      columns: table.columns.map(({ field, unit }) => ({ field, unit })),
    })),
  }
}

export function asked(reading: Reading, for_good: boolean): ChoicesIn {
  return {
    ...reading,
    source: reading.source.trim(),
    for_good,
    tables: reading.tables.map(({ kind, ...rest }): TableIn => ({ ...rest, kind: kind || null })),
  }
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
