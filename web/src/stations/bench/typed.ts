import type { QuantityOut, UnitOut } from '@/api/schema'

/**
 * A typed reading understood in the browser, by the registry and the rules of the server: what it
 * would refuse is told before anything is sent. Both are held to the same cases.
 */
export interface Understood {
  value: number
  unit: string
  /** In the base unit of the dimension. */
  base: number
  /** How it is known, unless it was measured, and half its width in the base unit. */
  kind?: 'estimated' | 'told'
  half?: number
  /** Where along the blade it was read, if the text names a place. */
  station?: string
  /** What is unusual of it for the knife's type, and a likely reading. */
  doubt?: string
  suggestion?: string
}

/** What is typical of a type of knife, by quantity: from, to. */
export interface Typical {
  label: string
  typical: Record<string, number[]>
}

export interface NotUnderstood {
  wrong: string
  suggestion: string
}

const MAX_CHARACTERS = 64
const VULGAR: Record<string, string> = {
  ...{ '¼': '1/4', '½': '1/2', '¾': '3/4' },
  ...{ '⅛': '1/8', '⅜': '3/8', '⅝': '5/8', '⅞': '7/8' },
}
const LOOKALIKES: Record<string, string> = {
  ...{ '″': '"', '”': '"', '“': '"', '–': '-', '−': '-', º: '°', '⁄': '/' },
}
const DECIMAL = '(?:[0-9]+(?:[.,][0-9]+)?|[.,][0-9]+)'
const NUMBER = `(?:[0-9]+[ -]+[0-9]+/[0-9]+|[0-9]+/[0-9]+|${DECIMAL})`
const whole = (pattern: string) => new RegExp(`^(?:${pattern})$`)
const RANGE = '\\s*(?:-|~|to|\\.\\.)\\s*'
const BAND = whole(`(${DECIMAL})${RANGE}(${DECIMAL})([^0-9]*)`)
const PLUS_MINUS = whole(`([-+]?${NUMBER})([^0-9±+]*)(?:±|\\+/-|\\+-)\\s*(${DECIMAL})([^0-9]*)`)
const SINGLE = whole(`([-+]?\\s*${NUMBER})([^0-9]*)`)
const POUNDS = whole(`(${DECIMAL})\\s*(?:lbs?|pounds?)\\s*(${DECIMAL})\\s*(?:oz|ounces?)`)
const SCORE = whole(`(${DECIMAL}(?:${RANGE}${DECIMAL})?)\\s*(?:/\\s*10|(?:out )?of (?:10|ten))`)
const RATIO = whole(`(${DECIMAL})\\s*[/:]\\s*(${DECIMAL})`)
const TOLD = whole('(?:told|printed|claimed)\\b:?\\s*(.+)')
const ABOUT = whole(
  '(?:[~≈]|(?:about|around|roughly|approximately|approx|circa|ca)\\b\\.?)\\s*(.+)',
)
const OR_SO = whole('(.+?)\\s*(?:\\bor so|\\bish|(?<=[0-9])ish)')
const SPLIT = whole('(.+?)\\s*(?:@|\\bat\\b)\\s*(.+)')
const PLACE = whole('(.+?)\\s*(?:(?:behind|from|off|ahead of)\\s+(?:the\\s+)?(tip|heel))?')

class Invalid extends Error {
  constructor(
    field: string,
    value: string,
    accepted: string,
    readonly suggestion = '',
    hint = '',
  ) {
    const text = `${field}: ${shown(value)} is not accepted; accepted: ${accepted}`
    super(hint ? `${text}. ${hint}` : text)
  }
}

/** Understand a reading of a quantity, hold it to its hard limits, and question what is unusual. */
export function typedReading(
  text: string,
  unit: string,
  of: { quantity: QuantityOut; units: UnitOut[]; type?: Typical },
): Understood | NotUnderstood {
  try {
    return held(text, unit, of.quantity, of.units, of.type)
  } catch (error) {
    if (!(error instanceof Invalid)) throw error
    return { wrong: error.message, suggestion: error.suggestion }
  }
}

function held(
  text: string,
  unit: string,
  q: QuantityOut,
  all: UnitOut[],
  type?: Typical,
): Understood {
  if (q.placed) {
    const { figure, station } = placed(text, all)
    return { ...held(figure, unit, { ...q, placed: false }, all, type), station }
  }
  const units = all.filter((u) => u.dimension === q.dimension)
  const { value, symbol, half, kind } = parsed(text, unit, q, units)
  const per = factor(units, symbol)
  const base = value * per
  const [low, high] = [(value - half) * per, (value + half) * per]
  if (low < q.hard_low || high > q.hard_high) {
    const range: [number, number] = [q.hard_low, q.hard_high]
    const meant = half > 0 ? '' : otherUnit(value, symbol, units, range)
    let hint = meant && `Was ${meant} meant?`
    if (q.dimension === 'hardness' && low < q.hard_low)
      hint = 'Below 20 scale C says nothing: the steel is soft there; read scale B (a ball).'
    const said = half > 0 ? text : `${general(value)} ${symbol}`
    throw new Invalid(q.label, said, q.accepted, meant, hint)
  }
  const usual = Math.max(q.estimate_least, q.estimate_share * Math.abs(base))
  const known = kind && { kind, half: half > 0 ? half * per : usual }
  if (kind && q.key === 'hardness_block')
    throw new Invalid(q.label, text, 'one reading as measured, not an estimate')
  const found: Understood = { value, unit: symbol, base, ...known }
  const limits = type?.typical[q.key] as [number, number] | undefined
  if (!type || !limits || (limits[0] <= base && base <= limits[1])) return found
  const sign = q.unit === 'dps' ? '°' : ` ${q.unit}`
  const side = q.unit === 'dps' ? ' per side' : ''
  const typical = `typical ${general(limits[0])} to ${general(limits[1])}${sign}`
  const doubt = `${q.label} ${general(base, 4)}${sign}${side} is unusual for a ${type.label}`
  return {
    ...found,
    doubt: `${doubt} (${typical})`,
    suggestion: kind ? '' : otherUnit(value, symbol, units, limits),
  }
}

/** A figure apart from its place along the blade, which is told as a station. */
function placed(text: string, all: UnitOut[]): { figure: string; station: string } {
  if (text.length > MAX_CHARACTERS)
    throw new Invalid('place', text, `at most ${MAX_CHARACTERS} characters`)
  const split = SPLIT.exec(text.toLowerCase().trim().split(/\s+/).join(' '))
  const said = split && PLACE.exec(split[2]!)
  if (!split || !said)
    throw new Invalid('place', text, 'a figure and its place, such as 2.3 at 75 mm from the tip')
  const lengths = all.filter((u) => u.dimension === 'length')
  const as = { key: '', label: 'place', dimension: 'length' } as unknown as QuantityOut
  const { value, symbol } = parsed(said[1]!, 'mm', as, lengths)
  const distance = value * factor(lengths, symbol)
  if (distance < 0 || distance > 1000) throw new Invalid('place', said[1]!, '0 to 1000 mm')
  const mm = general(Math.round(distance * 1000) / 1000)
  return { figure: split[1]!, station: `${mm} mm from ${said[2] ?? 'heel'}` }
}

interface Parsed {
  value: number
  symbol: string
  half: number
  kind?: 'estimated' | 'told'
}

/** What is typed, and by which words it is known: measured, about, told. */
function parsed(text: string, unit: string, q: QuantityOut, units: UnitOut[]): Parsed {
  if (text.length > MAX_CHARACTERS)
    throw new Invalid(q.label, text, `at most ${MAX_CHARACTERS} characters`)
  let cleaned = text
  for (const [sign, spelled] of Object.entries(VULGAR))
    cleaned = cleaned.replaceAll(sign, ` ${spelled}`)
  for (const [sign, plain] of Object.entries(LOOKALIKES)) cleaned = cleaned.replaceAll(sign, plain)
  cleaned = cleaned.toLowerCase().trim().split(/\s+/).join(' ')
  let kind: Parsed['kind']
  for (const [words, said] of [
    [TOLD, 'told'],
    [ABOUT, 'estimated'],
    [OR_SO, 'estimated'],
  ] as const) {
    const match = words.exec(cleaned)
    if (!match) continue
    cleaned = match[1]!.trim()
    kind ??= said
  }
  const found = bare(text, cleaned, unit, q, units)
  if (found.half > 0) kind ??= 'estimated'
  return kind ? { ...found, kind } : found
}

function bare(
  text: string,
  cleaned: string,
  unit: string,
  q: QuantityOut,
  units: UnitOut[],
): Parsed {
  const symbolOf = (spelled: string) => unitOf(spelled, unit, q, units, text)
  if (q.dimension === 'score') cleaned = SCORE.exec(cleaned)?.[1] ?? cleaned
  const ratio = q.dimension === 'ratio' && RATIO.exec(cleaned)
  if (ratio) {
    const [right, left] = [number(ratio[1]!, q.label), number(ratio[2]!, q.label)]
    if (Math.abs(right + left - 100) > 0.01)
      throw new Invalid(q.label, text, 'two shares that add up to 100, such as 70/30')
    return { value: right, symbol: '%', half: 0 }
  }
  const pounds = q.dimension === 'mass' && POUNDS.exec(cleaned)
  if (pounds)
    return {
      value: 16 * number(pounds[1]!, q.label) + number(pounds[2]!, q.label),
      symbol: 'oz',
      half: 0,
    }
  const halves = PLUS_MINUS.exec(cleaned)
  if (halves) {
    const symbol = symbolOf(halves[4]! || halves[2]!)
    const half = number(halves[3]!, q.label)
    return { value: number(halves[1]!, q.label), symbol, half }
  }
  const single = SINGLE.exec(cleaned)
  if (single) {
    const symbol = symbolOf(single[2]!)
    return { value: number(single[1]!, q.label), symbol, half: 0 }
  }
  const limits = BAND.exec(cleaned)
  if (!limits) throw new Invalid(q.label, text, accepted(q, units))
  const symbol = symbolOf(limits[3]!)
  const [low, high] = [number(limits[1]!, q.label), number(limits[2]!, q.label)]
  if (low > high) throw new Invalid(q.label, text, 'a band with the smaller number first')
  return { value: (low + high) / 2, symbol, half: (high - low) / 2 }
}

/** A decimal, a fraction or a whole number with a fraction; a comma is a decimal comma. */
function number(text: string, field: string): number {
  let compact = text.replaceAll('+', '').trim()
  const sign = compact.startsWith('-') ? -1 : 1
  compact = compact.replace(/^[- ]+/, '')
  if (compact.includes('/')) {
    const parts = compact.split(/[ -]+/)
    const [numerator, denominator] = parts.pop()!.split('/').map(Number) as [number, number]
    if (denominator === 0)
      throw new Invalid(field, text, 'a fraction with a denominator other than 0')
    return sign * (Number(parts[0] ?? 0) + numerator / denominator)
  }
  if (/^[1-9][0-9]{0,2},[0-9]{3}$/.test(compact)) {
    const either = `${compact.replace(',', '.')} or ${compact.replace(',', '')}`
    throw new Invalid(field, text, `${either}: write which, with no comma`)
  }
  return sign * Number(compact.replace(',', '.'))
}

function unitOf(text: string, bare: string, q: QuantityOut, units: UnitOut[], all: string): string {
  const spelled = text.trim().replace(/\.+$/, '')
  if (!spelled) return bare
  const inclusive = spelled.replace(/^°/, '').replace(/^deg/, '').trim()
  for (const candidate of [spelled, inclusive])
    for (const u of units)
      if (u.symbol === candidate || u.spellings.includes(candidate)) return u.symbol
  throw new Invalid(q.label, all, accepted(q, units))
}

function accepted(q: QuantityOut, units: UnitOut[]): string {
  if (q.dimension === 'ratio') return 'a ratio such as 70/30, right-hand face first'
  if (q.dimension === 'score') return 'a number from 0 to 10'
  const baseFirst = [...units].sort((a, b) => Number(b.base) - Number(a.base))
  return `a number in ${baseFirst.map((u) => u.symbol).join(', ')}`
}

/** The same figure in another unit that lands inside the limits; the other system first. */
function otherUnit(
  value: number,
  symbol: string,
  units: UnitOut[],
  limits: [number, number],
): string {
  const other = units.find((u) => u.symbol === symbol)?.other
  const found = [...units]
    .sort((a, b) => Number(b.symbol === other) - Number(a.symbol === other))
    .filter((u) => u.symbol !== symbol)
    .find((u) => limits[0] <= value * u.factor && value * u.factor <= limits[1])
  return found ? `${general(value)} ${found.symbol}` : ''
}

const factor = (units: UnitOut[], symbol: string) =>
  units.find((u) => u.symbol === symbol)?.factor ?? NaN

/** A number with so many significant digits, without the zeros that say nothing. */
export function general(value: number, digits = 6): string {
  if (value === 0) return Object.is(value, -0) ? '-0' : '0'
  // A tie is rounded to the even digit; a double has fewer than 80 digits where one can stand.
  const exact = value.toExponential(80).replace('.', '')
  const sign = value < 0 ? 1 : 0
  const tie = /^50*e/.test(exact.slice(sign + digits))
  const even = tie && Number(exact[sign + digits - 1]) % 2 === 0
  const kept = even
    ? Number(
        `${exact.slice(0, sign + 1)}.${exact.slice(sign + 1, sign + digits)}${exact.slice(exact.indexOf('e'))}`,
      )
    : value
  const [mantissa, power] = kept.toExponential(digits - 1).split('e') as [string, string]
  const exponent = Number(power)
  const trimmed = (text: string) => (text.includes('.') ? text.replace(/\.?0+$/, '') : text)
  if (exponent >= -4 && exponent < digits) return trimmed(kept.toFixed(digits - 1 - exponent))
  const size = String(Math.abs(exponent)).padStart(2, '0')
  return `${trimmed(mantissa)}e${exponent < 0 ? '-' : '+'}${size}`
}

/** The value as a message may repeat it: one line, 40 characters at most. */
function shown(value: string): string {
  const text = value.trim().split(/\s+/).join(' ') || 'nothing'
  return text.length <= 40 ? text : `${text.slice(0, 37)}...`
}
