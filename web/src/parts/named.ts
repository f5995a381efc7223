/** A choice from a list that can be typed: by its title, its value, or any of its other names. */
export interface Named {
  value: string | number
  title: string
  subtitle?: string
  names?: string[]
}

const plain = (text: string) => text.trim().toLowerCase().split(/\s+/).join(' ')

/** The choice that a text names exactly, whatever its capitals and blanks; none where none does. */
export function named(items: readonly Named[], text: string): Named | undefined {
  const said = plain(text)
  if (!said) return undefined
  return items.find((item) =>
    [item.title, String(item.value), ...(item.names ?? [])].some((name) => plain(name) === said),
  )
}
