import { computed } from 'vue'
import { session } from '@/api/session'
import type { Role, RoleOut } from '@/api/schema'

/** What a role may, in words. */
export const inWords = (role: Role): string =>
  session.value?.roles.find((r) => r.key === role)?.in_words ?? ''
/** Roles that people of the shop can be given. */
export const given = computed<RoleOut[]>(() => session.value?.roles.filter((r) => r.given) ?? [])
