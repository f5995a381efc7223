import { beforeEach, describe, expect, test, vi } from 'vitest'
import { refusal, shop } from '@/testing/shop'
import { api, data, guard } from './client'
import {
  askSession,
  ended,
  givePassword,
  may,
  me,
  nothing,
  passwordAsked,
  session,
  signIn,
  signOut,
  trouble,
  withPassword,
} from './session'

const WIL = { id: 2, name: 'Wil', role: 'bench', may: ['measure'], token: 'wil’s' }
const inside = (who: object | null) =>
  shop.when('GET', '/api/session', { body: { shop: 'Test', demo: [], has_owner: true, me: who } })

beforeEach(() => {
  session.value = null
  ended.value = false
  trouble.value = ''
  inside(WIL)
})

test('who is signed in may what the server says, and writes with its token', async () => {
  await askSession()
  expect([me.value?.name, may('measure'), may('own' as never)]).toEqual(['Wil', true, false])
  expect(guard.token).toBe('wil’s')
})

test('why the session could not be asked for is said, and forgotten once it can', async () => {
  shop.when('GET', '/api/session', 'unreachable')
  await askSession()
  expect(trouble.value).toBe('The server does not answer.')
  inside(WIL)
  await askSession()
  expect(trouble.value).toBe('')
})

describe('a sign-in that ends in the middle of work', () => {
  const ends = async () => {
    await askSession()
    shop.when('GET', '/api/counter', refusal(401, 'sign-in-needed', 'Sign in.'))
    await data(api.GET('/api/counter')).catch(() => undefined)
  }

  test('is noticed by the first refusal; nobody who never signed in is told', async () => {
    await ends()
    expect(ended.value).toBe(true)
    session.value = null
    ended.value = false
    await data(api.GET('/api/counter')).catch(() => undefined)
    expect(ended.value).toBe(false)
  })

  test('goes on where it was for the same person, from the start for another', async () => {
    const assign = vi.spyOn(location, 'assign').mockImplementation(() => undefined)
    shop.when('POST', '/api/session', { status: 204 })
    await ends()
    await signIn('Wil', 'secret')
    expect([ended.value, assign.mock.calls.length]).toEqual([false, 0])
    await ends()
    inside({ ...WIL, id: 3 })
    await signIn('Ada', 'secret')
    expect(assign).toHaveBeenCalledWith('/')
  })

  test('a page that looks as if it came from elsewhere asks for its token again', async () => {
    await askSession()
    inside({ ...WIL, token: 'new' })
    shop.when('POST', '/api/counter/customers', refusal(403, 'from-elsewhere', 'not ours'))
    await data(api.POST('/api/counter/customers', { body: {} as never })).catch(() => undefined)
    await vi.waitFor(() => expect(guard.token).toBe('new'))
  })
})

test('signing out leaves the page, here or everywhere', async () => {
  const assign = vi.spyOn(location, 'assign').mockImplementation(() => undefined)
  shop.when('DELETE', '/api/session', { status: 204 })
  shop.when('DELETE', '/api/sign-ins', { status: 204 })
  await signOut()
  await signOut(true)
  expect(assign).toHaveBeenCalledTimes(2)
  expect(shop.asked.map((a) => a.path)).toEqual(['/api/session', '/api/sign-ins'])
})

test('an empty answer is an answer, a refusal is a Problem', async () => {
  shop.when('DELETE', '/api/session', { status: 204 })
  await nothing(api.DELETE('/api/session'))
  shop.when('DELETE', '/api/session', refusal(403, 'not-allowed', 'not yours'))
  await expect(nothing(api.DELETE('/api/session'))).rejects.toThrow('not yours')
})

describe('what asks for the password again', () => {
  const invite = () => withPassword(() => nothing(api.DELETE('/api/sign-ins')))

  test('is done once the password was given, and a wrong one leaves it waiting', async () => {
    shop.when('DELETE', '/api/sign-ins', refusal(403, 'password-needed', 'Give it again.'))
    const done = invite()
    await vi.waitFor(() => expect(passwordAsked.value).not.toBeNull())
    shop.when('POST', '/api/session/confirm', refusal(422, 'invalid-value', 'Not the one.'))
    await expect(givePassword('wrong')).rejects.toThrow('Not the one.')
    expect(passwordAsked.value).not.toBeNull()
    shop.when('POST', '/api/session/confirm', { status: 204 })
    shop.when('DELETE', '/api/sign-ins', { status: 204 })
    await givePassword('right')
    await done
    expect(passwordAsked.value).toBeNull()
    expect(shop.asked.map((a) => a.method)).toEqual(['DELETE', 'POST', 'POST', 'DELETE'])
  })

  test('is not done where none is given', async () => {
    shop.when('DELETE', '/api/sign-ins', refusal(403, 'password-needed', 'Give it again.'))
    const done = invite()
    await vi.waitFor(() => expect(passwordAsked.value).not.toBeNull())
    passwordAsked.value?.(false)
    await expect(done).rejects.toThrow('Nothing was changed')
    expect(shop.asked).toHaveLength(1)
  })

  test('other refusals are told as they are', async () => {
    shop.when('DELETE', '/api/sign-ins', refusal(403, 'not-permitted', 'not yours'))
    await expect(invite()).rejects.toThrow('not yours')
    expect(passwordAsked.value).toBeNull()
  })
})
