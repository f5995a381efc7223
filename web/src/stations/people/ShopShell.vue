<script setup lang="ts">
import {
  mdiCalendarCheckOutline,
  mdiKnife,
  mdiRuler,
  mdiAtom,
  mdiChartBellCurveCumulative,
  mdiStoreOutline,
  mdiTune,
  mdiFileDocumentOutline,
  mdiScaleBalance,
  mdiThemeLightDark,
} from '@mdi/js'
import { useQueryClient } from '@tanstack/vue-query'
import { computed, defineAsyncComponent, onMounted, onUnmounted, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useCatalogue } from '@/api/catalogue'
import { ended, may, me, passwordAsked } from '@/api/session'
import type { May } from '@/api/schema'
import KnifeStrip from '@/strip/KnifeStrip.vue'
import { useHand } from '@/strip/store'
import { scheme, switchScheme } from '@/theme/scheme'
import SignInAgain from './SignInAgain.vue'
import { isTyping } from '@/parts/typing'

const PasswordAgain = defineAsyncComponent(() => import('./PasswordAgain.vue'))

const route = useRoute()
const router = useRouter()
const hand = useHand()
const { catalogue } = useCatalogue()

/** The stations by their keys, and what one must be allowed to work there. */
const STATIONS: { key: string; name: string; path: string; icon: string; needs?: May }[] = [
  { key: '1', name: 'Rack', path: '/rack', icon: mdiKnife },
  { key: '2', name: 'Bench', path: '/bench', icon: mdiRuler, needs: 'measure' },
  { key: '3', name: 'Sheet', path: '/sheet', icon: mdiFileDocumentOutline },
  { key: '4', name: 'Board', path: '/board', icon: mdiScaleBalance },
  { key: '5', name: 'Counter', path: '/counter', icon: mdiStoreOutline },
  { key: '6', name: 'Trials', path: '/trials', icon: mdiChartBellCurveCumulative },
  { key: '7', name: 'Upkeep', path: '/upkeep', icon: mdiCalendarCheckOutline },
  { key: '8', name: 'Steels', path: '/steels', icon: mdiAtom },
  { key: '9', name: 'Office', path: '/office', icon: mdiTune },
]

const stations = computed(() => STATIONS.filter((s) => !s.needs || may(s.needs)))

/** A page that goes home prints without the station's head. */
const card = computed(() => /\/(card\/\d+|care)$/.test(route.path))
const within = (path: string) => route.path === path || route.path.startsWith(`${path}/`)
const title = computed(() => route.meta.station ?? 'Maple Rook')

watch(
  () => [hand.asText(), route.path] as const,
  ([text]) => {
    if ((route.query.hand ?? '') !== text) {
      void router.replace({ query: { ...route.query, hand: text || undefined } })
    }
  },
)
watch(title, (name) => (document.title = `${name} · Maple Rook`), { immediate: true })

function onKey(event: KeyboardEvent): void {
  if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return
  const station = stations.value.find((s) => s.key === event.key)
  if (station) {
    void router.push(station.path)
    event.preventDefault()
  } else if (event.key.toLowerCase() === 'h' && hand.current !== null) {
    hand.toggle(hand.current)
    event.preventDefault()
  }
}

/** Back after a sign-in had ended: look again at all that could not be fetched. */
const queries = useQueryClient()
watch(ended, (now) => !now && queries.invalidateQueries())

onMounted(() => window.addEventListener('keydown', onKey))
onUnmounted(() => window.removeEventListener('keydown', onKey))
</script>

<template>
  <div class="shell">
    <a class="skip visually-hidden" href="#content">To the content</a>
    <KnifeStrip />
    <nav class="stations no-print" aria-label="Stations">
      <RouterLink
        v-for="station in stations"
        :key="station.key"
        :to="station.path"
        class="station"
        :class="{ here: within(station.path) }"
      >
        <svg viewBox="0 0 24 24" aria-hidden="true"><path :d="station.icon" /></svg>
        <span>{{ station.name }}</span>
        <small aria-hidden="true">{{ station.key }}</small>
      </RouterLink>
      <button
        type="button"
        class="station scheme plain"
        :aria-label="
          scheme === 'maple' ? 'Switch to the dark scheme' : 'Switch to the light scheme'
        "
        @click="switchScheme"
      >
        <svg viewBox="0 0 24 24" aria-hidden="true"><path :d="mdiThemeLightDark" /></svg>
        <span>{{ scheme === 'maple' ? 'Dark' : 'Light' }}</span>
      </button>
    </nav>
    <main id="content">
      <header class="head" :class="{ 'no-print': card }">
        <h1>{{ title }}</h1>
        <p class="soft purpose">{{ route.meta.purpose }}</p>
        <p class="small who">
          <span v-if="catalogue" class="soft shop">
            {{ catalogue.shop }}<template v-if="catalogue.place">, {{ catalogue.place }}</template>
            <template v-if="catalogue.demo"> · demo, all invented</template>
          </span>
          <RouterLink to="/office/me" class="me">{{ me?.name }}</RouterLink>
        </p>
      </header>
      <RouterView v-slot="{ Component }">
        <Suspense timeout="0">
          <component :is="Component" />
          <template #fallback><p class="soft waiting">Fetching the station…</p></template>
        </Suspense>
      </RouterView>
    </main>
    <SignInAgain v-if="ended" />
    <PasswordAgain v-if="passwordAsked" />
  </div>
</template>

<style scoped>
.skip:focus {
  clip-path: none;
  width: auto;
  height: auto;
  z-index: 30;
  background: var(--panel);
  padding: 8px;
}

.stations {
  position: fixed;
  top: 68px;
  bottom: 0;
  left: 0;
  width: 76px;
  display: flex;
  flex-direction: column;
  padding-top: 8px;
  border-right: 1px solid var(--hairline);
  background: var(--ground);
  z-index: 5;
}

.station {
  position: relative;
  display: flex;
  flex-direction: column;
  align-items: center;
  gap: 2px;
  padding: 10px 4px 8px;
  color: var(--soft-ink);
  text-decoration: none;
  font-size: var(--size-s);
}

.station svg {
  width: 22px;
  height: 22px;
  fill: currentColor;
}

.station small {
  position: absolute;
  top: 6px;
  right: 10px;
  font-size: 11px;
}

.station:hover {
  color: var(--ink);
}

.station.here {
  color: var(--ink);
  font-weight: 600;
  box-shadow: inset 3px 0 0 var(--measured);
}

.scheme {
  margin-top: auto;
  text-align: center;
}

main {
  margin-left: 76px;
  padding: 68px 20px 32px;
  min-width: 0;
}

.head {
  display: flex;
  align-items: baseline;
  gap: 14px;
  min-height: 52px;
  padding-top: 12px;
}

.head p {
  margin: 0;
}

.who {
  margin-left: auto !important;
  text-align: right;
}

.shop {
  margin-right: 14px;
}

.waiting {
  padding: 40px 0;
}

@media (max-width: 699px) {
  .stations {
    top: auto;
    right: 0;
    width: auto;
    height: 58px;
    flex-direction: row;
    justify-content: space-around;
    padding: 0;
    border-right: 0;
    border-top: 1px solid var(--hairline);
  }

  .station {
    padding: 6px 0 0;
    flex: 1;
    min-width: 0;
  }

  .station span {
    font-size: 10.5px;
  }

  .station small,
  .shop,
  .purpose {
    display: none;
  }

  .station.here {
    box-shadow: inset 0 3px 0 var(--measured);
  }

  .scheme {
    margin-top: 0;
  }

  main {
    margin-left: 0;
    padding: 68px 12px 76px;
  }
}

@media print {
  main {
    margin: 0;
    padding: 0;
  }
}
</style>
