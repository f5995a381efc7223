import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { api, data } from '@/api/client'
import type { CustomerOut, CustomerProfileIn } from '@/api/schema'
import { kitchen } from './kitchen'
import { stored } from './stored'

/** The customer at the counter: one profile for Board and Counter, kept across reloads. */
const KEY = 'maple-rook.counter.2'
export type Profile = Required<CustomerProfileIn>

const USUAL: Profile = {
  label: '',
  size: 'main',
  use: 'home',
  food_mix: 'all_round',
  shares: {},
  motion: 'any',
  hand: 'right',
  grip: 'pinch',
  bone: 'none',
  board: 'wood',
  technique: 'normal',
  care: 'wiped',
  tools: 'stones',
  skill: 'steady',
  heft: 'either',
  school: 'geometry',
  rods: 'none',
  ratio: 'recorded',
  budget: null,
  hand_size: 'not_asked',
  wrist: 'not_asked',
  hours: 'not_asked',
  buyer: 'not_asked',
  storage: 'not_asked',
  troubles: [],
  owned: [],
}

/** A customer of whom nothing is known yet; lists of its own. */
const usual = (): Profile => ({ ...USUAL, shares: {}, troubles: [], owned: [] })

/** What was kept, without answers this version no longer knows. */
function remembered(): Profile {
  const known = Object.entries(stored<Record<string, unknown>>(KEY, {})).filter(
    ([key, value]) =>
      key in USUAL &&
      (key === 'budget' ||
        (typeof value === typeof USUAL[key as keyof Profile] &&
          Array.isArray(value) === Array.isArray(USUAL[key as keyof Profile]))),
  )
  return { ...usual(), ...(Object.fromEntries(known) as Partial<Profile>) }
}

export const profile = reactive<Profile>(remembered())
/** The label the profile last went by, so that a changed customer can be kept again. */
export const lastLabel = ref(profile.label)

/** An edge is honed where there is a rod or stones to do it with. */
export const honed = computed(() => profile.tools === 'rod' || profile.tools === 'stones')

/** Predictions elsewhere are for the same kitchen as this customer's. */
export function intoKitchen(): void {
  const { use, board, technique, food_mix, rods } = profile
  Object.assign(kitchen, { use, board, technique, food_mix, rods, honed: honed.value })
}
function fromKitchen(): void {
  const { use, board, technique, food_mix } = kitchen
  if (
    use === profile.use &&
    board === profile.board &&
    technique === profile.technique &&
    food_mix === profile.food_mix
  )
    return
  Object.assign(profile, { use, board, technique, food_mix, label: '' })
}
fromKitchen()
intoKitchen()
watch(
  profile,
  (now) => {
    localStorage.setItem(KEY, JSON.stringify(now))
    if (now.label) lastLabel.value = now.label
    intoKitchen()
  },
  { flush: 'sync' },
)
watch(() => [kitchen.use, kitchen.board, kitchen.technique, kitchen.food_mix], fromKitchen)

export function answer(change: Partial<Profile>): void {
  Object.assign(profile, { ...change, label: '' })
}
export function startFrom(preset: CustomerProfileIn): void {
  const lists = {
    shares: { ...preset.shares },
    troubles: [...(preset.troubles ?? [])],
    owned: [...(preset.owned ?? [])],
  }
  Object.assign(profile, usual(), preset, lists)
}

/** The profile as it is sent, and as a query is known by. */
export function asked(): Profile {
  const { shares, troubles, owned } = profile
  return { ...profile, shares: { ...shares }, troubles: [...troubles], owned: [...owned] }
}

/** The questions, the presets and the kept customers. */
export function useConversation() {
  const queries = useQueryClient()
  const asked = useQuery({
    queryKey: ['counter'],
    queryFn: () => data(api.GET('/api/counter')),
    placeholderData: keepPreviousData,
  })
  function keep(customers: CustomerOut[]): void {
    queries.setQueryData(['counter'], { ...asked.data.value, customers })
  }
  return { asked, keep }
}
