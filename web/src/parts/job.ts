import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { api, data } from '@/api/client'
import type { CustomerOut, JobIn } from '@/api/schema'
import { kitchen } from './kitchen'

/** The customer at the counter: one job for Board and Counter, kept across reloads. */
const KEY = 'maple-rook.counter.2'
export type Job = Required<JobIn>

const USUAL: Job = {
  label: '',
  size: 'main',
  use: 'home',
  cuts: 'all_round',
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
}

/** What was kept, without answers this version no longer knows. */
function remembered(): Job {
  try {
    const kept = JSON.parse(localStorage.getItem(KEY) ?? '{}') as Record<string, unknown>
    const known = Object.entries(kept).filter(
      ([key, value]) =>
        key in USUAL && (key === 'budget' || typeof value === typeof USUAL[key as keyof Job]),
    )
    return { ...USUAL, ...(Object.fromEntries(known) as Partial<Job>) }
  } catch {
    return { ...USUAL }
  }
}

export const job = reactive<Job>(remembered())
/** The label the job last went by, so that a changed customer can be kept again. */
export const lastLabel = ref(job.label)

/** An edge is honed where there is a rod or stones to do it with. */
export const honed = computed(() => job.tools === 'rod' || job.tools === 'stones')

/** Predictions elsewhere are for the same kitchen as this customer's. */
export function intoKitchen(): void {
  const { use, board, technique, cuts } = job
  Object.assign(kitchen, { use, board, technique, job: cuts, honed: honed.value })
}
function fromKitchen(): void {
  const { use, board, technique, job: cuts } = kitchen
  if (use === job.use && board === job.board && technique === job.technique && cuts === job.cuts)
    return
  Object.assign(job, { use, board, technique, cuts, label: '' })
}
fromKitchen()
intoKitchen()
watch(
  job,
  (now) => {
    localStorage.setItem(KEY, JSON.stringify(now))
    if (now.label) lastLabel.value = now.label
    intoKitchen()
  },
  { flush: 'sync' },
)
watch(() => [kitchen.use, kitchen.board, kitchen.technique, kitchen.job], fromKitchen)

export function answer(change: Partial<Job>): void {
  Object.assign(job, { ...change, label: '' })
}
export function startFrom(preset: JobIn): void {
  Object.assign(job, USUAL, preset, { shares: { ...preset.shares } })
}

/** Parts of each food as a query string takes them. */
export const shares = computed(() =>
  Object.entries(job.shares)
    .filter(([, parts]) => parts > 0)
    .map(([food, parts]) => `${food}:${parts}`),
)

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
