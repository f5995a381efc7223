import { reactive, watch } from 'vue'
import { labelOf } from '@/api/catalogue'
import type {
  Basis,
  BoardMaterial,
  EdgeState,
  FoodMix,
  RodSchool,
  Technique,
  Use,
} from '@/api/schema'
import { stored } from './stored'

export interface KitchenChoice {
  use: Use
  board: BoardMaterial
  technique: Technique
  honed: boolean
  food_mix: FoodMix
  edge: EdgeState
  rods: RodSchool
  basis: Basis
}

/** Use, board and technique as people say them. */
export function inWords(of: Pick<KitchenChoice, 'use' | 'board' | 'technique'>): string {
  const { use, board, technique } = of
  return [use, labelOf('BoardMaterial', board), labelOf('Technique', technique)].join(', ')
}

const KEY = 'maple-rook.kitchen.2'
const HOME: KitchenChoice = {
  use: 'home',
  board: 'wood',
  technique: 'normal',
  honed: true,
  food_mix: 'all_round',
  edge: 'fresh',
  rods: 'none',
  basis: 'calibrated',
}

/** The kitchen predictions are made for; the same at every station, kept across reloads. */
export const kitchen = reactive<KitchenChoice>({
  ...HOME,
  ...stored<Partial<KitchenChoice>>(KEY, {}),
})

watch(kitchen, (now) => localStorage.setItem(KEY, JSON.stringify(now)))
