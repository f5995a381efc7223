import { useWindowVirtualizer } from '@tanstack/vue-virtual'
import { computed, onMounted, onUnmounted, ref, watch, type Ref } from 'vue'

/** How near the end of the page, in px, still counts as being there. */
const AT_END = 2

/**
 * Only lines near the window are drawn; `box` is what holds them, a line about so high.
 * Lines are measured as they come by; whoever went to the end stays there while it moves for that.
 */
export function useVisible(
  box: Ref<HTMLElement | null>,
  count: Ref<number>,
  high: number,
  overscan: number,
) {
  const top = ref(0)
  const width = ref(0)
  const look = () => {
    const placed = box.value?.getBoundingClientRect()
    if (!placed) return
    top.value = placed.top + window.scrollY
    width.value = placed.width
  }
  const page = document.documentElement
  let atEnd = false
  const scrolled = () => {
    atEnd = window.scrollY + window.innerHeight >= page.scrollHeight - AT_END
  }
  const watching = new ResizeObserver(look)
  onMounted(() => {
    look()
    window.addEventListener('scroll', scrolled, { passive: true })
    watching.observe(document.body)
    if (box.value) watching.observe(box.value)
  })
  onUnmounted(() => {
    watching.disconnect()
    window.removeEventListener('scroll', scrolled)
  })

  const lines = useWindowVirtualizer(
    computed(() => ({
      count: count.value,
      estimateSize: () => high,
      overscan,
      scrollMargin: top.value,
    })),
  )
  const drawn = computed(() => lines.value.getVirtualItems())
  const whole = computed(() => lines.value.getTotalSize())
  watch(
    [whole, count],
    (now, before) => {
      if (atEnd && now[1] === before[1]) window.scrollTo({ top: page.scrollHeight })
    },
    { flush: 'post' },
  )
  return {
    drawn,
    width,
    before: computed(() => (drawn.value[0]?.start ?? top.value) - top.value),
    after: computed(() => {
      const end = drawn.value.at(-1)?.end
      return end === undefined ? 0 : Math.max(0, whole.value - (end - top.value))
    }),
    measure: (line: unknown) => lines.value.measureElement(line as Element | null),
  }
}
