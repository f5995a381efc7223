import { flushPromises, mount } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest'
import { effectScope, nextTick, ref } from 'vue'
import { createMemoryHistory, createRouter, type Router } from 'vue-router'
import QuietLink from './QuietLink.vue'
import { settled } from './settled'

describe('a link of a long list', () => {
  let router: Router
  const drawn = vi.fn(() => 'KH-01')

  async function link() {
    const component = { render: () => null }
    router = createRouter({
      history: createMemoryHistory('/shop/'),
      routes: [{ path: '/:rest(.*)*', component }],
    })
    await router.push('/rack')
    drawn.mockClear()
    return mount(QuietLink, {
      props: { to: '/sheet/1' },
      slots: { default: drawn },
      global: { plugins: [router] },
    })
  }

  test('has an address of its own, below the path of the site', async () => {
    expect((await link()).attributes('href')).toBe('/shop/sheet/1')
  })

  test('goes there within the page, unless it is to open elsewhere', async () => {
    const a = await link()
    for (const event of [{ ctrlKey: true }, { metaKey: true }, { shiftKey: true }, { button: 1 }]) {
      await a.trigger('click', event)
      await flushPromises()
      expect(router.currentRoute.value.path).toBe('/rack')
    }
    await a.trigger('click')
    await flushPromises()
    expect(router.currentRoute.value.path).toBe('/sheet/1')
  })

  test('is not drawn again when the address changes', async () => {
    await link()
    await router.push('/rack?hand=1.4')
    await nextTick()
    expect(drawn).toHaveBeenCalledTimes(1)
  })
})

describe('a search', () => {
  beforeEach(() => void vi.useFakeTimers())
  afterEach(() => void vi.useRealTimers())

  test('is asked once the typing pauses, and not after the page is left', async () => {
    const typed = ref('')
    const page = effectScope()
    const asked = page.run(() => settled(typed, 120))!
    for (const text of ['1', '1.', '1.4']) {
      typed.value = text
      await nextTick()
      vi.advanceTimersByTime(60)
    }
    expect(asked.value).toBe('')
    vi.advanceTimersByTime(60)
    expect(asked.value).toBe('1.4')
    typed.value = '1.41'
    await nextTick()
    page.stop()
    vi.advanceTimersByTime(500)
    expect(asked.value).toBe('1.4')
  })
})
