/** The identity of a knife in hand: a letter, a hue and a line pattern, the same in every chart. */
export interface KnifeMark {
  letter: string
  colour: string
  dash: string
  echarts: string | number[]
}

const PATTERNS: [string, string | number[]][] = [
  ['', 'solid'],
  ['6 3', [6, 3]],
  ['1.5 3', [1.5, 3]],
  ['8 3 1.5 3', [8, 3, 1.5, 3]],
  ['12 4', [12, 4]],
  ['8 3 1.5 3 1.5 3', [8, 3, 1.5, 3, 1.5, 3]],
]

export const MARKS: KnifeMark[] = PATTERNS.map(([dash, echarts], i) => {
  const letter = 'ABCDEF'.charAt(i)
  return { letter, colour: `var(--knife-${letter.toLowerCase()})`, dash, echarts }
})

export function mark(index: number): KnifeMark {
  return MARKS[index % MARKS.length] as KnifeMark
}
