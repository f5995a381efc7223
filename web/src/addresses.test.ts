import { expect, test } from 'vitest'

const files = import.meta.glob<string>('./**/*.{ts,vue}', {
  query: '?raw',
  import: 'default',
  eager: true,
})
/** An address of the shop that is no argument of `api.GET` and the like, nor of `addressOf`. */
const BARE =
  /(?<!api\.(?:GET|POST|PUT|PATCH|DELETE)\(\s*)(?<!\baddressOf\(\s*)(['"`])\/(?:api|p|k|m)\//g
/** Addresses that are named first and then given to the client. */
const NAMED = /const url = '\/api\/[^']+'/g

test('whatever names an address of the shop asks for it, as it may be served below a path', () => {
  const found = Object.entries(files)
    .filter(([name]) => !/\.test\.ts$|schema\.ts$|\/testing\//.test(name))
    .flatMap(([name, source]) => {
      const text = source.replace(NAMED, '').replace(/\/\*\*.*?\*\//gs, '')
      return [...text.matchAll(BARE)].map((m) => `${name}: ${text.slice(m.index, m.index + 60)}`)
    })
  expect(Object.keys(files).length).toBeGreaterThan(100)
  expect(found).toEqual([])
})
