<script setup lang="ts">
import { useRouter } from 'vue-router'

/** A link for long lists: unlike RouterLink it is not drawn again on every change of the address. */
const props = defineProps<{ to: string }>()

const router = useRouter()

function go(event: MouseEvent): void {
  const elsewhere = event.metaKey || event.ctrlKey || event.shiftKey || event.altKey
  if (elsewhere || event.button !== 0 || event.defaultPrevented) return
  event.preventDefault()
  void router.push(props.to)
}
</script>

<template>
  <a :href="router.resolve(to).href" @click="go"><slot /></a>
</template>
