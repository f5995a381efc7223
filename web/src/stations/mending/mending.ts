import type { components } from '@/api/schema'

type ModelOut = components['schemas']['MendedModel']
type ModelChange = components['schemas']['ModelChange']

export interface ClaimTyped {
  quantity: string
  printed: string
}

/** A model as it is edited: everything as text, so that what is typed stays as typed. */
export interface ModelTyped {
  maker: string
  line: string
  knife_type: string | null
  nominal: string
  grind: string | null
  construction: string
  finish: string
  handle: string
  steel: string | null
  price: string
  gtin: string
  even_machine_edge: boolean
  claims: ClaimTyped[]
}

export function typedOf(model: ModelOut): ModelTyped {
  return {
    maker: model.maker,
    line: model.line,
    knife_type: model.knife_type,
    nominal: `${Number(model.nominal_mm.toFixed(3))} mm`,
    grind: model.grind,
    construction: model.construction,
    finish: model.finish,
    handle: model.handle,
    steel: model.steel,
    price: model.price === null ? '' : model.price.toFixed(2),
    gtin: model.gtin,
    even_machine_edge: model.even_machine_edge,
    claims: model.claims.map(({ quantity, printed }) => ({ quantity, printed })),
  }
}

/** Only what was changed is sent, so that nothing else is written over. */
export function changed(model: ModelOut, typed: ModelTyped, reason: string): ModelChange {
  const was = typedOf(model)
  const found: Record<string, unknown> = { reason: reason.trim() }
  const plain = ['maker', 'line', 'knife_type', 'nominal', 'grind', 'construction'] as const
  for (const name of [...plain, 'finish', 'handle', 'steel', 'gtin', 'even_machine_edge'] as const)
    if (typed[name] !== was[name]) found[name] = typed[name]
  if (typed.price.trim() !== was.price)
    found.price = typed.price.trim() ? typed.price.trim().replace(',', '.') : null
  const claims = typed.claims.filter((c) => c.quantity && c.printed.trim())
  if (JSON.stringify(claims) !== JSON.stringify(was.claims)) found.claims = claims
  return found as ModelChange
}

/** Whether anything but the reason would be sent. */
export const isChanged = (change: ModelChange) => Object.keys(change).length > 1
