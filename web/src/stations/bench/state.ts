import { ref, type Ref } from 'vue'
import type { BenchSheetOut, CheckOut, ItemOut, QuantityOut, ReadingOut } from '@/api/schema'
import type { Waiting } from './queue'

/** Something the Bench asks back before it goes on. */
export type Question =
  | { kind: 'unusual'; entry: Waiting; message: string; suggestion: string | null; never: boolean }
  | { kind: 'not-applicable' }
  | { kind: 'void'; reading: ReadingOut }
  | { kind: 'check'; check: CheckOut }

/** What the parts of one Bench share: the sheet as the server has it, and what is on the screen. */
export interface BenchState {
  sheetId: number
  sheet: Ref<BenchSheetOut | undefined>
  quantities: Ref<Map<string, QuantityOut>>
  items: Ref<Map<string, ItemOut>>
  /** The key of what is asked, and what is typed so far. */
  at: Ref<string>
  text: Ref<string>
  unit: Ref<string>
  question: Ref<Question | null>
  /** What was not stored and why; what was done last. */
  fault: Ref<string>
  said: Ref<string>
  /** Where the hardness tester presses: above the edge, along it. */
  place: Ref<{ above: string; along: string }>
  photoId: Ref<number | null>
  /** Puts the cursor into the entry. */
  focus: () => void
}

/** The state of a Bench that was just opened; what was half typed there last is typed again. */
export function newState(
  sheetId: number,
  from: Pick<BenchState, 'sheet' | 'quantities' | 'items' | 'focus'>,
): BenchState {
  const draft = JSON.parse(localStorage.getItem(draftKey(sheetId)) ?? '{}') as Draft
  return {
    sheetId,
    ...from,
    at: ref(draft.at ?? ''),
    text: ref(draft.text ?? ''),
    unit: ref(''),
    question: ref(null),
    fault: ref(''),
    said: ref(''),
    place: ref({ above: '', along: '' }),
    photoId: ref(null),
  }
}

interface Draft {
  at?: string
  text?: string
}

export const draftKey = (sheetId: number) => `maple-rook.draft.${sheetId}`

export function keepDraft({ sheetId, at, text }: BenchState): void {
  localStorage.setItem(draftKey(sheetId), JSON.stringify({ at: at.value, text: text.value }))
}
