/** What this browser keeps under a key; the fallback where it keeps nothing that can be read. */
export function stored<T extends object>(key: string, fallback: T): T {
  try {
    const found: unknown = JSON.parse(localStorage.getItem(key) ?? 'null')
    const same = Array.isArray(found) === Array.isArray(fallback)
    return found !== null && typeof found === 'object' && same ? (found as T) : fallback
  } catch {
    return fallback
  }
}
