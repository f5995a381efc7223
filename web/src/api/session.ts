import { computed, ref } from 'vue'
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
export async function signIn(name: string, password: string): Promise<void> {
  const before = me.value?.id
  await nothing(api.POST('/api/session', { body: { name, password } }))
  await askSession()
  if (ended.value && before !== undefined && before !== me.value?.id) location.assign('/')
  ended.value = false
}

/** Sign out, here or everywhere; what is on the screen goes with it. */
export async function signOut(everywhere = false): Promise<void> {
  await nothing(everywhere ? api.DELETE('/api/sign-ins') : api.DELETE('/api/session'))
  location.assign('/')
}

/** A request that answers nothing, or a Problem. */
export async function nothing(
  asked: Promise<{ error?: unknown; response: Response }>,
): Promise<void> {
  await data(asked.then((answer) => (answer.response.ok ? { ...answer, data: true } : answer)))
}

guard.refused = (problem: Problem) => {
  if (problem.kind === 'sign-in-needed' && me.value) ended.value = true
  if (problem.kind === 'from-elsewhere') void askSession()
}
