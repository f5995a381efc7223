const ENTER =
  'Press 2 for the Bench and enter your first knife: maker, type, size and a tag. What is not known stays open.'
const HANG =
  'Hang a knife: click “Hang” under one, or point at it and press H. It goes on the strip above.'
const SECOND = 'Enter a second knife at the Bench (2): two that hang are compared on the Board (4).'
const COMPARE =
  'Hang two to six, then press 4: the Board says which differences are real and what they mean.'
const MEASURE =
  'Press 2 for the Bench and measure a knife of your own: one number, Enter, the next.'

/** The first steps in a shop as it is, and which of them are done. */
export function firstSteps(
  knives: number,
  hung: number,
  own: boolean,
): { steps: string[]; done: number } {
  if (knives === 0) return { steps: [ENTER], done: 0 }
  if (knives === 1) return { steps: [HANG, SECOND], done: hung ? 1 : 0 }
  const steps = own ? [HANG, COMPARE] : [HANG, COMPARE, MEASURE]
  return { steps, done: Math.min(hung, 2) }
}
