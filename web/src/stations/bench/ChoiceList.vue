<script setup lang="ts">
import { computed } from 'vue'
import { addressOf } from '@/api/base'
import type { ItemOut, ObservationOut, UsualOut } from '@/api/schema'
import { aspectsText } from './choices'

/** The numbered choices of one item, and what was seen so far or of pieces like this one. */
const props = defineProps<{
  item: ItemOut
  seen: ObservationOut[]
  usual: UsualOut | undefined
  others: number
  waiting: string[]
  locked: boolean
}>()
defineEmits<{
  choose: [typed: string]
  usual: []
  allUsual: []
  withdraw: [aspect: ObservationOut['aspect']]
}>()

const chosen = computed(() => new Set(props.seen.flatMap((o) => o.value.split(','))))
const faded = computed(() =>
  props.seen.length || props.waiting.length ? [] : (props.usual?.value.split(',') ?? []),
)
const aspectLabel = (key: string) => props.item.aspects.find((a) => a.key === key)?.label ?? key
</script>

<template>
  <div>
    <ol v-if="item.choices.length" class="choices">
      <li v-for="(choice, i) in item.choices" :key="choice.key">
        <button
          type="button"
          class="plain"
          :class="{ on: chosen.has(choice.key), faded: faded.includes(choice.key) }"
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
    </p>
    <p v-if="faded.length && usual && !locked" class="usual">
      <button type="button" class="plain" tabindex="-1" @click="$emit('usual')">
        <kbd>=</kbd> as {{ usual.tag }}: {{ usual.text }}
      </button>
      <button v-if="others" type="button" class="plain" tabindex="-1" @click="$emit('allUsual')">
        <kbd>Alt</kbd> <kbd>=</kbd> and {{ others }} more at this stop
      </button>
    </p>
    <ul v-if="seen.length || waiting.length" class="seen">
      <li v-for="o in seen" :key="o.id">
        <img
          v-if="o.photo_id"
          :src="addressOf(`/api/bench/photos/${o.photo_id}`)"
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
    <p v-else class="soft">Not inspected yet.</p>
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

.choices button.faded {
  color: var(--soft-ink);
  font-style: italic;
}

.usual {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  margin: 0 0 6px;
  color: var(--soft-ink);
}

@media (max-width: 699px), (pointer: coarse) {
  .choices button,
  .usual button,
  .link {
    min-height: 44px;
  }
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
