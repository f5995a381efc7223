import type { PageOut, PageRow, PartIn, ReviewContent, StandingOut } from '@/api/schema'

/** Where a page stands, in words and with a sign, never by hue alone. */
export function standingText(standing: StandingOut | null, changed = false): string {
  if (!standing) return '○ Draft, not published'
  if (!standing.on) return '○ Withdrawn'
  return changed ? '● Published; the draft has changed since' : '● Published'
}

/** A copy with one part moved up or down by one place; at either end it stays. */
export function moved(parts: readonly PartIn[], at: number, by: -1 | 1): PartIn[] {
  const to = at + by
  if (to < 0 || to >= parts.length) return [...parts]
  const found = [...parts]
  const [part] = found.splice(at, 1)
  found.splice(to, 0, part!)
  return found
}

/** Parts that would say nothing: shown, not rewritten, and the record has nothing for them. */
export function silent(content: ReviewContent, page: PageOut): Set<string> {
  const drafts = new Map<string, string>(page.parts.map((p) => [p.part, p.draft]))
  return new Set(
    (content.parts ?? [])
      .filter((p) => p.shown && !(p.text ?? drafts.get(p.part) ?? ''))
      .map((p) => p.part),
  )
}

/** A text with a figure in braces put where the cursor stands. */
export function inserted(text: string, key: string, from: number, to: number): string {
  return `${text.slice(0, from)}{${key}}${text.slice(to)}`
}

/** The figures in braces that a text names and nobody knows. */
export function unknownFigures(text: string, known: readonly string[]): string[] {
  const named = [...text.matchAll(/\{([a-z][a-z0-9_.]{0,60})\}/g)].map((m) => m[1]!)
  return [...new Set(named)].filter((key) => !known.includes(key))
}

/** Pages by what stands: published first, then drafts, then what was withdrawn. */
export function inOrder(rows: readonly PageRow[]): PageRow[] {
  const rank = (row: PageRow) => (row.standing?.on ? 0 : row.standing ? 2 : 1)
  return [...rows].sort((a, b) => rank(a) - rank(b) || b.changed_at.localeCompare(a.changed_at))
}
