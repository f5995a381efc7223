import { beforeEach, describe, expect, test } from 'vitest'
import { refusal, shop } from '@/testing/shop'
import { api, data, guard, Problem, Unreachable } from './client'

const PATH = '/api/counter/customers'
const create = () =>
  data(api.POST('/api/counter/customers', { body: { label: 'galley' } as never }))
const keys = () => shop.of('POST', PATH).map((a) => a.headers.get('Idempotency-Key'))

beforeEach(() => {
  guard.token = 'of this page'
  guard.refused = undefined
})

describe('what goes wrong is said', () => {
  test('a refusal is a Problem in the words of the server', async () => {
    const errors = [
      { field: 'weight', value: '12 stone', accepted: 'a number in g', message: 'no' },
    ]
    shop.when('GET', '/api/counter', {
      status: 422,
      body: {
        type: 'invalid-value',
        detail: '12 stone is not accepted',
        errors,
        suggestion: '6 oz',
      },
    })
    const problem = await data(api.GET('/api/counter')).catch((e: unknown) => e)
    expect(problem).toBeInstanceOf(Problem)
    expect(problem).toMatchObject({
      status: 422,
      kind: 'invalid-value',
      message: '12 stone is not accepted',
      errors,
      suggestion: '6 oz',
    })
  })

  test('no answer at all, or a proxy’s own, is a server that is not reached', async () => {
    shop.when('GET', '/api/counter', 'unreachable')
    await expect(data(api.GET('/api/counter'))).rejects.toThrow(Unreachable)
    shop.when('GET', '/api/counter', { status: 502, body: {} })
    await expect(data(api.GET('/api/counter'))).rejects.toThrow('The server does not answer.')
  })

  test('an answer without words still says its number', async () => {
    shop.when('GET', '/api/counter', { status: 500, body: {} })
    await expect(data(api.GET('/api/counter'))).rejects.toThrow('The server answered 500.')
  })

  test.each([
    [503, 'unavailable', true],
    [500, 'unknown', true],
    [429, 'too-many-requests', true],
    [401, 'sign-in-needed', true],
    [403, 'from-elsewhere', true],
    [403, 'not-allowed', false],
    [422, 'invalid-value', false],
    [409, 'conflict', false],
  ])('%d %s may be taken later: %s', (status, kind, later) => {
    expect(new Problem(status, kind, '').later).toBe(later)
  })

  test('who watches is told of every refusal', async () => {
    const told: string[] = []
    guard.refused = (problem) => told.push(problem.kind)
    shop.when('GET', '/api/counter', refusal(401, 'sign-in-needed', 'Sign in.'))
    await expect(data(api.GET('/api/counter'))).rejects.toThrow('Sign in.')
    expect(told).toEqual(['sign-in-needed'])
  })
})

describe('what writes', () => {
  test('carries the token of the page; what only reads does not', async () => {
    shop.when('POST', PATH, { body: [] })
    shop.when('GET', '/api/counter', { body: {} })
    await create()
    await data(api.GET('/api/counter'))
    expect(shop.asked.map((a) => a.headers.get('X-Rook-Token'))).toEqual(['of this page', null])
  })

  test('sent again after a lost answer it is the same request', async () => {
    shop.when('POST', PATH, 'unreachable')
    await expect(create()).rejects.toThrow(Unreachable)
    shop.when('POST', PATH, { status: 503, body: { type: 'unavailable', detail: 'later' } })
    await expect(create()).rejects.toThrow('later')
    shop.when('POST', PATH, { body: [] })
    await create()
    expect(new Set(keys()).size).toBe(1)
    await create() // and once it was answered, the next is another
    expect(new Set(keys()).size).toBe(2)
  })

  test('a refusal is an answer: what is sent after it is another request', async () => {
    shop.when('POST', PATH, refusal(409, 'conflict', 'in use'))
    await expect(create()).rejects.toThrow('in use')
    await expect(create()).rejects.toThrow('in use')
    expect(new Set(keys()).size).toBe(2)
  })
})
