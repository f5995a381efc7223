/** Days and moments as screens write them; files and the API have ISO 8601. */

/** "6 Nov 2026" of an ISO day, or of a moment by its own day. */
export function dayText(iso: string): string {
  return new Date(`${iso.slice(0, 10)}T12:00:00`).toLocaleDateString('en-GB', {
    day: 'numeric',
    month: 'short',
    year: 'numeric',
  })
}

/** "6 Nov 2026, 14:05" by the clock on the wall. */
export function momentText(iso: string): string {
  return new Date(iso).toLocaleString('en-GB', {
    day: 'numeric',
    month: 'short',
    year: 'numeric',
    hour: '2-digit',
    minute: '2-digit',
  })
}
