import { expect, test } from 'vitest'
import { recoloured, sized } from './chartFile'

test('an option changes its colours and nothing else', () => {
  const formatter = () => 'N'
  const option = {
    name: '#111111 is no colour here',
    color: ['#111111', '#333333'],
    series: [{ lineStyle: { color: '#111111', width: 2 }, data: [[0, 1, null]], formatter }],
  }
  const changed = recoloured(option, { '#111111': '#eeeeee' })
  expect(changed.color).toEqual(['#eeeeee', '#333333'])
  expect(changed.series[0]).toEqual({
    lineStyle: { color: '#eeeeee', width: 2 },
    data: [[0, 1, null]],
    formatter,
  })
  expect(changed.name).toBe(option.name)
  expect(option.color[0]).toBe('#111111')
})

test('a drawing is as wide as asked for and keeps its view box', () => {
  const svg = '<svg width="800" height="300" viewBox="0 0 800 300"><rect width="800" height="300"/>'
  expect(sized(svg, 1200, 0.375)).toBe(
    '<svg width="1200" height="450" viewBox="0 0 800 300"><rect width="800" height="300"/>',
  )
})
