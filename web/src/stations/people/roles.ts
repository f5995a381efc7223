import type { Role } from '@/api/schema'

/** What each role is called and may, in words. */
export const ROLES: Record<Role, { name: string; may: string }> = {
  owner: { name: 'owner', may: 'everything: people, coefficients, the whole record' },
  bench: { name: 'bench', may: 'measures, mends, brings tables in and takes them out' },
  counter: { name: 'counter', may: 'advises: customers, comparisons, plans of upkeep' },
  reader: { name: 'reader', may: 'looks at everything and changes nothing' },
  elsewhere: { name: 'elsewhere', may: 'a name from a file; signs in nowhere' },
}
export const WORKING: Role[] = ['owner', 'bench', 'counter', 'reader']
