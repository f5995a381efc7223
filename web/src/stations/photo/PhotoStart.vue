<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { addressOf } from '@/api/base'
import { api, data } from '@/api/client'
import { useCatalogue } from '@/api/catalogue'
import type { Shot, View } from './measuring'

/** How a photo is taken, the cards to print, and the ways to bring one in. */
const props = defineProps<{ view: View; busy: boolean; locked: boolean; short: boolean }>()
defineEmits<{ file: [file: File]; standIn: [shot: Shot] }>()

const { catalogue } = useCatalogue()
const cards = useQuery({
  queryKey: ['scale-cards'],
  queryFn: () => data(api.GET('/api/photos/cards')),
  staleTime: Infinity,
})
const fitting = computed(() => (cards.data.value ?? []).filter((c) => c.view === props.view))
const SHOTS: Shot[] = ['straight', 'tilted', 'blurred', 'glare', 'cut off', 'too oblique']
const shots = computed(() => SHOTS.filter((s) => props.view === 'side' || s !== 'glare'))
const shot = ref<Shot>('straight')

const HOW: Record<View, string[]> = {
  side: [
    'Lay the card on a flat board near its edge, the blade flat on its clear field, tip to the right; let the handle hang over the end, so that the blade lies flat on the paper.',
    'Even light from both sides, no flash. Hold the camera straight above, the whole card in the picture.',
    'Secure the blade before you let go of it, and keep the edge away from you.',
  ],
  heel: [
    'Blacken the end of the blade at the heel with a washable felt pen, from the edge up to where the handle begins.',
    'Cut the window out of the heel card and stand it level with the blackened end, edge down, plain paper a hand behind it.',
    'Come as close as the camera focuses, straight along the blade. Clean the blade before it touches food.',
  ],
}
const picked = (event: Event) => {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  return file
}
</script>

<template>
  <section class="start" aria-label="Take a photo">
    <div v-if="!short" class="intro">
      <ol class="how">
        <li v-for="step in HOW[view]" :key="step">{{ step }}</li>
      </ol>
      <img
        v-if="fitting[0]"
        :src="addressOf(`/api/photos/cards/${fitting[0].key}.svg`)"
        :alt="`The ${fitting[0].label} card`"
        class="sample"
      />
    </div>
    <p class="ways">
      <label class="way" :class="{ off: locked }">
        open a photo
        <input
          class="visually-hidden"
          type="file"
          accept="image/jpeg,image/png,image/webp,image/heic,image/heif,.heic,.heif"
          aria-label="Open a photo"
          :disabled="locked || busy"
          @change="((f) => f && $emit('file', f))(picked($event))"
        />
      </label>
      <label class="way" :class="{ off: locked }">
        use the camera
        <input
          class="visually-hidden"
          type="file"
          accept="image/*"
          capture="environment"
          aria-label="Use the camera"
          :disabled="locked || busy"
          @change="((f) => f && $emit('file', f))(picked($event))"
        />
      </label>
      <span v-if="catalogue?.demo" class="demo">
        <span class="soft small">or the simulated camera:</span>
        <select v-model="shot" aria-label="How the simulated camera takes it">
          <option v-for="s in shots" :key="s">{{ s }}</option>
        </select>
        <v-btn :loading="busy" :disabled="locked" @click="$emit('standIn', shot)">
          Take the photo
        </v-btn>
      </span>
    </p>
    <dl v-if="!short" class="facts cards">
      <template v-for="card in fitting" :key="card.key">
        <dt>{{ card.label }}</dt>
        <dd>
          <a :href="addressOf(`/api/photos/cards/${card.key}.pdf`)" download>PDF</a>,
          <a :href="addressOf(`/api/photos/cards/${card.key}.svg`)" download>SVG</a>
          <span class="soft small"> · {{ card.use }}</span>
        </dd>
      </template>
    </dl>
    <p v-if="!short" class="small soft">
      Print at 100 % on matt paper and measure the ruler line. JPEG, PNG, WebP or HEIC, up to 25 MB;
      where a photo was taken is not kept.
    </p>
  </section>
</template>

<style scoped>
.intro {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 440px);
  gap: 12px 40px;
  align-items: start;
}

.sample {
  width: 100%;
  max-height: 300px;
  object-fit: contain;
  object-position: top;
  border: 1px solid var(--hairline);
  background: #fff;
  margin-top: 14px;
}

@media (max-width: 899px) {
  .intro {
    grid-template-columns: minmax(0, 1fr);
  }
}

.how {
  max-width: 62ch;
  padding-left: 20px;
}

.how li {
  margin-bottom: 6px;
}

.ways {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 14px;
  margin: 10px 0;
}

.way {
  border: 1px solid var(--measured);
  color: var(--measured);
  border-radius: 3px;
  padding: 7px 14px;
  cursor: pointer;
}

.way:has(:focus-visible) {
  outline: 2px solid var(--measured);
  outline-offset: 2px;
}

.way.off {
  opacity: 0.5;
  cursor: default;
}

.demo {
  display: inline-flex;
  align-items: center;
  gap: 8px;
}
</style>
