/** A standard deviation with two significant digits. */
export function deviation(value: number): string {
  if (!value) return '0'
  const digits = Math.max(0, 1 - Math.floor(Math.log10(Math.abs(value))))
  return value.toFixed(Math.min(digits, 4))
}

/** An empty grid of what will be typed: by person, piece and repeat. */
export function emptyGrid(people: number, pieces: number, repeats: number): string[][][] {
  return Array.from({ length: people }, () =>
    Array.from({ length: pieces }, () => Array.from({ length: repeats }, () => '')),
  )
}

/** The grid in another size; what is typed stays where it still fits. */
export function resized(grid: string[][][], people: number, pieces: number, repeats: number) {
  return emptyGrid(people, pieces, repeats).map((of, p) =>
    of.map((row, k) => row.map((_, n) => grid[p]?.[k]?.[n] ?? '')),
  )
}

/** Whether every reading is typed. */
export const isWhole = (grid: string[][][]): boolean =>
  grid.every((person) => person.every((piece) => piece.every((typed) => typed.trim())))
