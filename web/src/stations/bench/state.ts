import { ref, type Ref } from 'vue'
import { stored } from '@/parts/stored'
import type { Typical } from './typed'
import type {
  BenchSheetOut,
  CheckOut,
  ItemOut,
  QuantityOut,
  ReadingOut,
  UnitOut,
} from '@/api/schema'

/** A reading of an instrument, with the id it was given there. */
export interface TakenFrom {
  id: string
  instrument: number
}

/** Something the Bench asks back before it goes on. */
export type Question =
  | {
      kind: 'unusual'
      typed: string
      /** The instrument that read it, where none typed it. */
      from?: TakenFrom
      message: string
      suggestion: string
      /** It cannot be kept, only put right. */
      never: boolean
    }
  | { kind: 'not-applicable' }
  | { kind: 'void'; reading: ReadingOut }
  | { kind: 'check'; check: CheckOut }
  | { kind: 'sign-off'; lacking: string[] }

/** What the parts of one Bench share: the sheet as the server has it, and what is on the screen. */
export interface BenchState {
  sheetId: number
  sheet: Ref<BenchSheetOut | undefined>
  quantities: Ref<Map<string, QuantityOut>>
  items: Ref<Map<string, ItemOut>>
  units: Ref<UnitOut[]>
  types: Ref<Map<string, Typical>>
  /** The key of what is asked, and what is typed so far. */
  at: Ref<string>
  text: Ref<string>
  /** What is half typed at other questions, by their keys. */
  drafts: Record<string, string>
  /** Whether anything was typed here since the question was opened. */
  edited: Ref<boolean>
  unit: Ref<string>
  question: Ref<Question | null>
  /** What was not stored and why; what was done last. */
  fault: Ref<string>
  said: Ref<string>
  /** Where the hardness tester presses: above the edge, along it. */
  place: Ref<{ above: string; along: string }>
  photoId: Ref<number | null>
  /** A note that goes with the next reading or answer; null while none is written. */
  note: Ref<string | null>
  /** The unit chosen for bare numbers on this sheet, by dimension. */
  chosenUnits: Record<string, string>
  /** Puts the cursor into the entry; selected, what is there gives way to what is typed next. */
  focus: (selected?: boolean) => void
}

/** The state of a Bench that was just opened; what was half typed there last is typed again. */
export function newState(
  sheetId: number,
  from: Pick<BenchState, 'sheet' | 'quantities' | 'items' | 'units' | 'types' | 'focus'>,
): BenchState {
  const draft = stored<Draft>(draftKey(sheetId), {})
  return {
    sheetId,
    ...from,
    at: ref(draft.at ?? ''),
    text: ref(draft.text ?? ''),
    drafts: draft.drafts ?? {},
    edited: ref(Boolean(draft.text)),
    unit: ref(''),
    question: ref(null),
    fault: ref(''),
    said: ref(''),
    place: ref({ above: '', along: '' }),
    photoId: ref(null),
    note: ref(draft.note ?? null),
    chosenUnits: draft.units ?? {},
  }
}

interface Draft {
  at?: string
  text?: string
  drafts?: Record<string, string>
  note?: string | null
  units?: Record<string, string>
}

export const draftKey = (sheetId: number) => `maple-rook.draft.${sheetId}`

export function keepDraft({ sheetId, at, text, drafts, note, chosenUnits }: BenchState): void {
  const draft: Draft = {
    ...{ at: at.value, text: text.value, drafts },
    ...{ note: note.value, units: chosenUnits },
  }
  localStorage.setItem(draftKey(sheetId), JSON.stringify(draft))
}
