import type { BoardMaterial, ProtocolIn, Technique, TrialKind, Use } from '@/api/schema'

/** A protocol as it is being typed. */
export interface ProtocolDraft {
  edge_preparation: string
  angle: string
  grit: string
  medium: string
  load: string
  stroke: string
  speed: string
  use: Use
  board: BoardMaterial
  technique: Technique
  honed: boolean
}

/** What the standard asks of a card test stands there already; the rest is for the person. */
export function blankProtocol(kind: TrialKind): ProtocolDraft {
  const card = kind === 'card'
  return {
    edge_preparation: '',
    angle: '',
    grit: '',
    medium: card ? '5 % silica card' : '',
    load: card ? '50' : '',
    stroke: card ? '40' : '',
    speed: card ? '50' : '',
    use: 'home',
    board: 'wood',
    technique: 'normal',
    honed: true,
  }
}

export function draftOf(protocol: ProtocolIn, kind: TrialKind): ProtocolDraft {
  const text = (value: number | null | undefined) => (value == null ? '' : String(value))
  return {
    ...blankProtocol(kind),
    edge_preparation: protocol.edge_preparation ?? '',
    angle: text(protocol.angle_per_side_deg),
    grit: protocol.grit ?? '',
    medium: protocol.medium ?? '',
    load: text(protocol.load_n),
    stroke: text(protocol.stroke_mm),
    speed: text(protocol.speed_mm_s),
    ...protocol.kitchen,
  }
}

export const decimal = (text: string) => Number(text.trim().replace(',', '.') || NaN)

/** Labels of the numbers that are no numbers. */
export function unreadable(draft: ProtocolDraft): string[] {
  return (['angle', 'load', 'stroke', 'speed'] as const).filter(
    (key) => draft[key].trim() !== '' && !Number.isFinite(decimal(draft[key])),
  )
}

export function protocolOf(draft: ProtocolDraft, kind: TrialKind): ProtocolIn {
  const number = (text: string) => (text.trim() === '' ? null : decimal(text))
  const { use, board, technique, honed } = draft
  return {
    edge_preparation: draft.edge_preparation,
    angle_per_side_deg: number(draft.angle),
    grit: draft.grit,
    medium: draft.medium,
    load_n: number(draft.load),
    stroke_mm: number(draft.stroke),
    speed_mm_s: number(draft.speed),
    kitchen: kind === 'kitchen' ? { use, board, technique, honed } : null,
  }
}
