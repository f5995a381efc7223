import type { ClaimVerdict } from '@/api/schema'

/** A sign beside the word of each verdict, never the hue alone. */
export const CLAIM_SIGNS: Record<ClaimVerdict, string> = {
  confirmed: '✓',
  contradicted: '⚠',
  undecided: '?',
  not_measured: '–',
}
