<script setup lang="ts">
import { labelOf } from '@/api/catalogue'
import { onMounted } from 'vue'
import { useRoute } from 'vue-router'
import type { ClaimOut, FigureOut } from '@/api/schema'
import { CLAIM_SIGNS } from '@/parts/claims'
import { expandedText, meanText, ratioText } from '@/parts/numbers'

/** What the box says against what the bench reads, by the decision rule of ISO 14253-1. */
const route = useRoute()
/** A link to the claims waits until they are here. */
onMounted(() => {
  if (route.hash === '#claims') document.getElementById('claims')?.scrollIntoView()
})
defineProps<{ claims: ClaimOut[]; figures: Record<string, FigureOut> }>()
</script>

<template>
  <section v-if="claims.length" id="claims">
    <h2>Claims</h2>
    <table>
      <thead>
        <tr>
          <th>claim</th>
          <th>printed</th>
          <th class="number">measured</th>
          <th>verdict</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="claim in claims" :key="claim.quantity">
          <td>{{ claim.label }}</td>
          <td :title="claim.tolerance">
            {{ claim.printed }} <span class="soft small">{{ claim.tolerance }}</span>
          </td>
          <td class="number">
            <template v-if="figures[claim.quantity]">
              <template v-if="claim.quantity === 'asymmetry'">{{
                ratioText(figures[claim.quantity]!.mean)
              }}</template>
              <template v-else>
                {{ meanText(figures[claim.quantity]!) }} ±
                {{ expandedText(figures[claim.quantity]!) }}
              </template>
            </template>
            <span v-else class="soft">not measured</span>
          </td>
          <td
            :class="{
              rust: claim.verdict === 'contradicted',
              'grade-M': claim.verdict === 'confirmed',
            }"
          >
            {{ CLAIM_SIGNS[claim.verdict] }} {{ labelOf('ClaimVerdict', claim.verdict) }}
            <span class="soft small">{{ claim.statement }}</span>
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>
