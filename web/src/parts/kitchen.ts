import { reactive, watch } from 'vue'
import type { Basis, BoardMaterial, EdgeState, Job, Technique, Use } from '@/api/schema'

export interface KitchenChoice {
  use: Use
  board: BoardMaterial
  technique: Technique
  honed: boolean
  job: Job
  edge: EdgeState
  basis: Basis
}

const KEY = 'maple-rook.kitchen'
const HOME: KitchenChoice = {
  use: 'home',
  board: 'wood or plastic',
  technique: 'normal',
  honed: true,
  job: 'all foods alike',
  edge: 'fresh from the stone',
  basis: 'calibrated',
}

function remembered(): KitchenChoice {
  try {
    return { ...HOME, ...(JSON.parse(localStorage.getItem(KEY) ?? '{}') as Partial<KitchenChoice>) }
  } catch {
    return { ...HOME }
  }
}

/** The kitchen predictions are made for; the same at every station, kept across reloads. */
export const kitchen = reactive<KitchenChoice>(remembered())

watch(kitchen, (now) => localStorage.setItem(KEY, JSON.stringify(now)))
