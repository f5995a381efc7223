import { useMutation, useQueryClient } from '@tanstack/vue-query'
import type { DueState, RodSchool } from '@/api/schema'
import { answer } from '@/parts/profile'

/** What the parts of Upkeep share. */
export const RODS: RodSchool[] = ['none', 'light']
export const setRods = (rods: RodSchool) => answer({ rods })

const MARK: Record<DueState, string> = { rests: '', due: '●', overdue: '⚠' }
export const stateMark = (state: DueState) => MARK[state]

/** Today as an ISO day, by the clock on the wall. */
export function todayIso(): string {
  const now = new Date()
  const two = (n: number) => String(n).padStart(2, '0')
  return `${now.getFullYear()}-${two(now.getMonth() + 1)}-${two(now.getDate())}`
}

/** "1 h 25 min". */
export function timeText(minutes: number): string {
  const whole = Math.round(minutes)
  const hours = Math.floor(whole / 60)
  return hours ? `${hours} h ${whole % 60} min` : `${whole} min`
}

/** A mutation whose answer is what the query under a key shows, if it has one; what rests on it
 * is fetched again. */
export function useWrite<In, Out>(write: (body: In) => Promise<Out>, key?: () => unknown[]) {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: write,
    onSuccess: (now: Out) => {
      if (key) queries.setQueryData(key(), now)
      for (const station of ['upkeep', 'rack', 'sheet']) {
        void queries.invalidateQueries({ queryKey: [station] })
      }
    },
  })
}
