/** What of a picture is shown: left, top, width and height, as shares of it. */
export type Crop = [left: number, top: number, width: number, height: number]

/** The least that may be left of a side, as the server has it. */
export const LEAST = 0.1
export const WHOLE: Crop = [0, 0, 1, 1]

const within = (value: number, low: number, high: number) => Math.min(Math.max(value, low), high)
const tidy = (value: number) => Math.round(value * 1000) / 1000

/** The part between two points of a picture, each side a tenth at least and inside it. */
export function between(from: [number, number], to: [number, number]): Crop {
  const [left, width] = side(from[0], to[0])
  const [top, height] = side(from[1], to[1])
  return [left, top, width, height]
}

function side(a: number, b: number): [number, number] {
  const [low, high] = [Math.min(a, b), Math.max(a, b)].map((v) => within(v, 0, 1)) as [
    number,
    number,
  ]
  const length = Math.max(high - low, LEAST)
  return [tidy(within(low, 0, 1 - length)), tidy(length)]
}

/** A crop with one of its four numbers as typed, in per cent; the others give way. */
export function typed(crop: Crop, at: 0 | 1 | 2 | 3, percent: number): Crop {
  const now: Crop = [...crop]
  const share = (Number.isFinite(percent) ? percent : 0) / 100
  const across = at % 2
  if (at < 2) {
    now[at] = tidy(within(share, 0, 1 - LEAST))
    now[at + 2] = tidy(within(crop[at + 2]!, LEAST, 1 - now[at]!))
  } else {
    now[at] = tidy(within(share, LEAST, 1))
    now[across] = tidy(within(crop[across]!, 0, 1 - now[at]!))
  }
  return now
}

/** All of a picture is no crop. */
export function orNone(crop: Crop): Crop | null {
  return crop[2] === 1 && crop[3] === 1 ? null : crop
}
