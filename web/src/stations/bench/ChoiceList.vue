<script setup lang="ts">
import { computed, ref } from 'vue'
import type { ItemOut, ObservationOut } from '@/api/schema'
import { aspectsText } from './choices'

/** The numbered choices of one item, what was seen so far, and a photo where one helps. */
const props = defineProps<{
  item: ItemOut
  seen: ObservationOut[]
  waiting: string[]
  locked: boolean
  photo: number | null
}>()
const emit = defineEmits<{
  choose: [typed: string]
  photo: [file: File]
  withdraw: [aspect: ObservationOut['aspect']]
}>()

const chosen = computed(() => new Set(props.seen.flatMap((o) => o.value.split(','))))
const picker = ref<HTMLInputElement | null>(null)
defineExpose({ pickPhoto: () => picker.value?.click() })

function picked(event: Event): void {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (file) emit('photo', file)
}

const aspectLabel = (key: string) => props.item.aspects.find((a) => a.key === key)?.label ?? key
</script>

<template>
  <div>
    <ol v-if="item.choices.length" class="choices">
      <li v-for="(choice, i) in item.choices" :key="choice.key">
        <button
          type="button"
          class="plain"
          :class="{ on: chosen.has(choice.key) }"
          :disabled="locked"
          tabindex="-1"
          @click="$emit('choose', String(i + 1))"
        >
          <kbd>{{ i + 1 }}</kbd> {{ choice.label }}
        </button>
      </li>
    </ol>
    <p class="soft small how">
      <template v-if="item.choices.length">By number or by its words. </template>
      <template v-if="item.multiple">Several: 1 3. </template>
      <template v-if="aspectsText(item)"
        >Then {{ aspectsText(item) }}: 2{{ item.aspects.find((a) => a.key)?.key[0] }}.
      </template>
      <template v-if="!item.free">A note after a comma: 2, as found.</template>
      <template v-else>In words.</template>
      <button v-if="item.photo" type="button" class="plain link" @click="picker?.click()">
        {{ photo ? 'photo ready, goes with the next entry' : 'add a photo (Alt+P)' }}
      </button>
      <input
        v-if="item.photo"
        ref="picker"
        type="file"
        accept="image/*"
        capture="environment"
        class="visually-hidden"
        tabindex="-1"
        aria-label="Photo"
        @change="picked"
      />
    </p>
    <ul v-if="seen.length || waiting.length" class="seen">
      <li v-for="o in seen" :key="o.id">
        <img
          v-if="o.photo_id"
          :src="`/api/bench/photos/${o.photo_id}`"
          alt="photo of it"
          loading="lazy"
        />
        <span>
          <strong class="grade-M">{{ o.text || o.note }}</strong>
          <span v-if="o.aspect" class="soft"> {{ aspectLabel(o.aspect) }}</span>
          <span v-if="o.text && o.note">, {{ o.note }}</span>
          <span class="soft small"> {{ o.person }}</span>
          <button
            v-if="!locked"
            type="button"
            class="plain soft small link"
            tabindex="-1"
            @click="$emit('withdraw', o.aspect)"
          >
            withdraw
          </button>
        </span>
      </li>
      <li v-for="(words, i) in waiting" :key="`w${i}`" class="soft">{{ words }} on its way</li>
    </ul>
    <p v-else class="soft">Not looked at yet.</p>
  </div>
</template>

<style scoped>
.choices {
  list-style: none;
  margin: 0 0 6px;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(220px, 1fr));
  gap: 2px 12px;
}

.choices button {
  padding: 6px 4px !important;
  width: 100%;
  border-bottom: 1px solid var(--hairline) !important;
}

.choices button:hover {
  background: var(--panel);
}

.choices button.on {
  color: var(--measured);
  font-weight: 600;
}

.how {
  margin: 0 0 10px;
}

.link {
  text-decoration: underline;
  margin-left: 6px;
}

.seen {
  list-style: none;
  margin: 0;
  padding: 0;
}

.seen li {
  display: flex;
  gap: 10px;
  align-items: center;
}

.seen img {
  width: 72px;
  height: 54px;
  object-fit: cover;
  border: 1px solid var(--hairline);
}
</style>
