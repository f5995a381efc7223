import { useWindowVirtualizer } from '@tanstack/vue-virtual'
import { computed, onMounted, onUnmounted, ref, type Ref } from 'vue'

/** Only lines near the window are drawn; `box` is what holds them, a line about so high. */
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
  const watching = new ResizeObserver(look)
  onMounted(() => {
    look()
    watching.observe(document.body)
    if (box.value) watching.observe(box.value)
  })
  onUnmounted(() => watching.disconnect())

  const lines = useWindowVirtualizer(
    computed(() => ({
      count: count.value,
      estimateSize: () => high,
      overscan,
      scrollMargin: top.value,
    })),
  )
  const drawn = computed(() => lines.value.getVirtualItems())
  return {
    drawn,
    width,
    before: computed(() => (drawn.value[0]?.start ?? top.value) - top.value),
    after: computed(() => {
      const end = drawn.value.at(-1)?.end
      return end === undefined ? 0 : Math.max(0, lines.value.getTotalSize() - (end - top.value))
    }),
    measure: (line: unknown) => lines.value.measureElement(line as Element | null),
  }
}
