import type { QueryClient } from '@tanstack/vue-query'
import type { TrialOut, WholeCutSession, WholeTrial } from '@/api/schema'
import { MARKS, type KnifeMark } from '@/parts/letters'

/** The hue and pattern of each trial on a chart: a knife on the strip keeps its own. */
export function marksOf(trials: TrialOut[], hand: number[]): KnifeMark[] {
  const taken = new Set(trials.map((t) => hand.indexOf(t.piece_id)).filter((at) => at >= 0))
  const free = MARKS.map((_, at) => at).filter((at) => !taken.has(at))
  const used = new Set<number>()
  return trials.map((t) => {
    const own = hand.indexOf(t.piece_id)
    const at = own >= 0 && !used.has(own) ? own : (free.shift() ?? 0)
    used.add(at)
    return MARKS[at] as KnifeMark
  })
}

/** Show a trial as it stands now, and ask again for all that rests on it. */
export function trialChanged(queries: QueryClient, trial: WholeTrial): void {
  queries.setQueryData(['trials', trial.id], trial)
  for (const key of ['trials', 'sheet', 'board', 'rack', 'kept']) {
    void queries.invalidateQueries({ queryKey: [key] })
  }
}

/** Show a cut session as it stands now, and ask again for all that rests on its foods. */
export function cutsChanged(queries: QueryClient, session: WholeCutSession): void {
  queries.setQueryData(['cut-trials', session.id], session)
  for (const key of ['cut-trials', 'sheet', 'board', 'rack']) {
    void queries.invalidateQueries({ queryKey: [key] })
  }
}
