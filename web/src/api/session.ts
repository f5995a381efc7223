import { addressOf } from './base'
import { computed, ref, shallowRef } from 'vue'
import { api, data, guard, Problem } from './client'
import type { May, SelfOut, SessionOut } from './schema'

/** Whose shop this is and who is signed in, as the server last said. */
export const session = ref<SessionOut | null>(null)
/** Why the session could not be asked for, where it could not. */
export const trouble = ref('')
/** The sign-in ended while its person was at work; their page stays as it is. */
export const ended = ref(false)

export const me = computed<SelfOut | null>(() => session.value?.me ?? null)

export function may(what: May): boolean {
  return me.value?.may.includes(what) ?? false
}

export async function askSession(): Promise<void> {
  try {
    session.value = await data(api.GET('/api/session'))
    guard.token = session.value.me?.token ?? ''
    trouble.value = ''
  } catch (error) {
    trouble.value = error instanceof Error ? error.message : String(error)
  }
}

/** Sign in; the same person goes on where they were, another begins afresh. */
export async function signIn(name: string, password: string, code?: string): Promise<void> {
  const before = me.value?.id
  await nothing(api.POST('/api/session', { body: { name, password, code: code || null } }))
  await askSession()
  if (ended.value && before !== undefined && before !== me.value?.id)
    location.assign(addressOf('/'))
  ended.value = false
}

/** Sign out, here or everywhere; what is on the screen goes with it. */
export async function signOut(everywhere = false): Promise<void> {
  if (everywhere) await withPassword(() => nothing(api.DELETE('/api/sign-ins')))
  else await nothing(api.DELETE('/api/session'))
  location.assign(addressOf('/'))
}

/** Settles what waits for the password: whether it was given. Null while nothing waits. */
export const passwordAsked = shallowRef<((given: boolean) => void) | null>(null)

/** Do what asks for the password where it was not given lately, once it was. */
export async function withPassword<T>(act: () => Promise<T>): Promise<T> {
  try {
    return await act()
  } catch (error) {
    if (!(error instanceof Problem) || error.kind !== 'password-needed') throw error
  }
  const given = await new Promise<boolean>((settle) => (passwordAsked.value = settle))
  passwordAsked.value = null
  if (!given) throw new Error('Nothing was changed: the password was not confirmed.')
  return act()
}

/** Give the password again; what waited for it goes on. */
export async function givePassword(password: string): Promise<void> {
  await nothing(api.POST('/api/session/confirm', { body: { password } }))
  passwordAsked.value?.(true)
}

/** A request that answers nothing, or a Problem. */
export async function nothing(
  asked: Promise<{ error?: unknown; response: Response }>,
): Promise<void> {
  await data(asked.then((answer) => (answer.response.ok ? { ...answer, data: true } : answer)))
}

guard.refused = (problem: Problem) => {
  if (problem.kind === 'sign-in-needed' && me.value) ended.value = true
  if (problem.kind === 'from-elsewhere' || problem.kind === 'second-step-needed') void askSession()
}
