import type { SpecificationOut } from '@/api/schema'
import { rounded, unitText } from './numbers'

/** What would suit a customer, range by range, as a person says it. */
export function wantedText(wanted: SpecificationOut): string[] {
  const ranges = wanted.ranges.map(({ label, unit, low, high }) => {
    const inUnit = unit ? ` ${unitText(unit)}` : ''
    const text = (value: number) => rounded(value, 0)
    if (low !== null && high !== null) return `${label} ${text(low)} to ${text(high)}${inUnit}`
    if (low !== null) return `${label} from ${text(low)}${inUnit}`
    return `${label} up to ${text(high ?? 0)}${inUnit}`
  })
  return [...ranges, ...wanted.words]
}
