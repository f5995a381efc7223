<script setup lang="ts">
import { computed, ref } from 'vue'
import { between, orNone, typed, WHOLE, type Crop } from './crop'

/** What of a photograph is shown: drawn over it, or typed as shares of its sides. */
const props = defineProps<{ src: string; alt: string; crop: number[] | null }>()
const emit = defineEmits<{ chosen: [crop: number[] | null]; cancel: [] }>()

const now = ref<Crop>(props.crop ? ([...props.crop] as Crop) : [...WHOLE])
const picture = ref<HTMLElement>()
let begun: [number, number] | null = null
const frame = computed(() => {
  const [left, top, width, height] = now.value.map((share) => `${100 * share}%`)
  return { left, top, width, height }
})
const SIDES = ['From the left, %', 'From the top, %', 'Width, %', 'Height, %'] as const

function point(event: PointerEvent): [number, number] {
  const box = picture.value!.getBoundingClientRect()
  return [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height]
}
function begin(event: PointerEvent): void {
  begun = point(event)
  picture.value!.setPointerCapture(event.pointerId)
}
function draw(event: PointerEvent): void {
  if (begun) now.value = between(begun, point(event))
}
</script>

<template>
  <v-dialog
    :model-value="true"
    max-width="680"
    aria-labelledby="crop"
    @update:model-value="emit('cancel')"
  >
    <div class="dialog-panel fields">
      <h2 id="crop">Crop the photograph</h2>
      <p class="soft small">Drag over the part readers should see. The original file is kept.</p>
      <div
        ref="picture"
        class="picture"
        @pointerdown.prevent="begin"
        @pointermove="draw"
        @pointerup="begun = null"
        @pointercancel="begun = null"
      >
        <img :src="src" :alt="alt" draggable="false" />
        <div class="frame" :style="frame"></div>
      </div>
      <div class="sides">
        <v-text-field
          v-for="(side, at) in SIDES"
          :key="side"
          :label="side"
          type="number"
          min="0"
          max="100"
          :model-value="Math.round(1000 * now[at]!) / 10"
          @change="
            now = typed(now, at as 0 | 1 | 2 | 3, Number(($event.target as HTMLInputElement).value))
          "
        />
      </div>
      <p class="buttons">
        <v-btn color="primary" variant="flat" @click="emit('chosen', orNone(now))">Use this</v-btn>
        <v-btn @click="now = [...WHOLE]">Show in full</v-btn>
        <v-btn variant="text" @click="emit('cancel')">Cancel</v-btn>
      </p>
    </div>
  </v-dialog>
</template>

<style scoped>
.picture {
  position: relative;
  overflow: hidden;
  touch-action: none;
  cursor: crosshair;
  justify-self: center;
  user-select: none;
}

.picture img {
  display: block;
  max-width: 100%;
  max-height: 50vh;
}

.frame {
  position: absolute;
  border: 2px solid #fff;
  outline: 1px solid #000;
  box-shadow: 0 0 0 4000px rgb(0 0 0 / 55%);
  pointer-events: none;
}

.sides {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(120px, 1fr));
  gap: 8px;
}
</style>
