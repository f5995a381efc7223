<script setup lang="ts">
import { labelOf } from '@/api/catalogue'
import { computed } from 'vue'
import type { HardnessOut, InstrumentOut } from '@/api/schema'
import { expandedText, meanText, rounded } from '@/parts/numbers'

/** The hardness session: block, correction, result, places, and what may be said. */
const props = defineProps<{
  hardness: HardnessOut
  blocks: InstrumentOut[]
  standing: number | null
}>()
const block = defineModel<number | undefined>('block')
const place = defineModel<{ above: string; along: string }>('place', { required: true })

const error = computed(() => {
  const off = props.hardness.error_hrc
  if (off === null) return ''
  const size = rounded(Math.abs(off), 1)
  if (size === '0.0') return 'the tester reads true'
  return `the tester reads ${size} ${off > 0 ? 'high' : 'low'}; corrected for`
})
const sign = computed(
  () =>
    ({ hardened: '✓', not_hardened: '⚠', hardly_hardened: '⚠', cannot_be_said: '?' })[
      props.hardness.verdict
    ] ?? '?',
)
</script>

<template>
  <section class="session" aria-label="Hardness session">
    <p class="place">
      Indent
      <label>
        <input v-model="place.above" inputmode="decimal" maxlength="6" placeholder="–" />
        mm above the edge
      </label>
      <label>
        <input v-model="place.along" inputmode="decimal" maxlength="6" placeholder="–" />
        mm from the heel
      </label>
    </p>
    <dl>
      <dt>block</dt>
      <dd v-if="hardness.block && hardness.certified_hrc !== null">
        {{ hardness.block_name }}, read {{ rounded(hardness.block.mean, 1) }} ({{
          hardness.block.n
        }}): {{ error }}
      </dd>
      <dd v-else class="soft">
        <template v-if="blocks.length > 1">
          <select
            :value="standing"
            aria-label="Reference block"
            @change="block = Number(($event.target as HTMLSelectElement).value)"
          >
            <option v-for="b in blocks" :key="b.id" :value="b.id">{{ b.name }}</option>
          </select>
        </template>
        <template v-else-if="blocks[0]">{{ blocks[0].name }}</template>
        not read; the result is not corrected
      </dd>
      <dt>blade</dt>
      <dd v-if="hardness.raw && hardness.result">
        <strong :class="hardness.result.kind === 'measured' ? 'grade-M' : 'not-measured'">
          {{ meanText(hardness.result) }} ± {{ expandedText(hardness.result) }}
        </strong>
        <span class="unit"> HRC</span>
        <span v-if="hardness.result.kind !== 'measured'" class="soft">
          &nbsp;{{ hardness.result.kind }}
        </span>
        <span v-else class="soft">
          read {{ rounded(hardness.raw.mean, 1) }}, range {{ rounded(hardness.range_hrc, 1) }} over
          {{ hardness.raw.n }}
        </span>
      </dd>
      <dd v-else class="soft">not measured</dd>
      <template v-if="hardness.claim">
        <dt>claim</dt>
        <dd>
          {{ hardness.claim.printed }} ({{ hardness.claim.tolerance }}):
          <strong :class="{ rust: hardness.claim.verdict === 'contradicted' }">
            {{ hardness.claim.verdict === 'contradicted' ? '⚠ ' : ''
            }}{{ labelOf('ClaimVerdict', hardness.claim.verdict) }}
          </strong>
        </dd>
      </template>
      <dt>verdict</dt>
      <dd>
        <strong
          :class="{
            rust: hardness.verdict.endsWith('hardened') && hardness.verdict !== 'hardened',
          }"
        >
          {{ sign }} {{ labelOf('Hardened', hardness.verdict) }}
        </strong>
        <span class="soft">: {{ hardness.why }}</span>
      </dd>
    </dl>
    <ul v-if="hardness.warnings.length" class="rust small">
      <li v-for="warning in hardness.warnings" :key="warning">⚠ {{ warning }}</li>
    </ul>
    <p class="soft small">Keep fingers clear of the tester while the load is on.</p>
  </section>
</template>

<style scoped>
.session {
  border-top: 1px solid var(--hairline);
  margin-top: 10px;
  padding-top: 6px;
}

.place {
  margin: 0 0 6px;
  display: flex;
  gap: 12px;
  flex-wrap: wrap;
  align-items: baseline;
}

input {
  width: 58px;
}

dl {
  display: grid;
  grid-template-columns: 60px 1fr;
  gap: 3px 10px;
  margin: 0;
}

dt {
  color: var(--soft-ink);
}

dd {
  margin: 0;
}

ul {
  list-style: none;
  margin: 6px 0;
  padding: 0;
}

p {
  margin: 4px 0;
}
</style>
