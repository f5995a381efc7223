<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { api, data } from '@/api/client'
import { me, nothing, signOut, withPassword } from '@/api/session'
import type { KeyOut, SignInOut } from '@/api/schema'
import { ago } from '@/parts/numbers'
import OfficeTabs from '@/parts/OfficeTabs.vue'
import { given, inWords } from './roles'
import ShownOnce from './ShownOnce.vue'
import TwoStep from './TwoStep.vue'
import UsernameField from './UsernameField.vue'

/** One's own password, where one is signed in, and keys for programs and calendars. */
const client = useQueryClient()
const queryKey = ['sign-ins']
const list = useQuery({ queryKey, queryFn: () => data(api.GET('/api/sign-ins')) })
const browsers = computed(() => list.data.value?.filter((s) => s.kind === 'browser') ?? [])
const keys = computed(() => list.data.value?.filter((s) => s.kind !== 'browser') ?? [])
const shown = (now: SignInOut[]) => client.setQueryData(queryKey, now)

const password = reactive({ old: '', new: '', again: '' })
const change = useMutation({
  mutationFn: () =>
    nothing(api.PUT('/api/password', { body: { old: password.old, new: password.new } })),
  onSuccess: () => {
    Object.assign(password, { old: '', new: '', again: '' })
    void client.invalidateQueries({ queryKey })
  },
})

const end = useMutation({
  mutationFn: (id: number) =>
    data(api.DELETE('/api/sign-ins/{sign_in_id}', { params: { path: { sign_in_id: id } } })),
  onSuccess: shown,
})

const everywhere = useMutation({ mutationFn: () => signOut(true) })

/** What a browser is called by people, from what it calls itself. */
function browserName(agent: string): string {
  const of = (names: [RegExp, string][]) => names.find(([known]) => known.test(agent))?.[1]
  const browser = of([
    [/Firefox/, 'Firefox'],
    [/Edg/, 'Edge'],
    [/Chrome|CriOS/, 'Chrome'],
    [/Safari/, 'Safari'],
  ])
  const system = of([
    [/Android/, 'Android'],
    [/iPhone|iPad/, 'iOS'],
    [/Windows/, 'Windows'],
    [/Mac OS/, 'macOS'],
    [/Linux|X11/, 'Linux'],
  ])
  return [browser ?? 'a browser', system].filter(Boolean).join(' on ')
}

const key = reactive({ label: '', kind: 'program' as const as 'program' | 'calendar', role: '' })
const made = ref<(KeyOut & { kind: string }) | null>(null)
const make = useMutation({
  mutationFn: () => {
    const body = { label: key.label.trim(), kind: key.kind, role: (key.role || null) as 'reader' }
    return withPassword(() => data(api.POST('/api/sign-ins', { body })))
  },
  onSuccess: (now) => {
    made.value = { ...now, kind: key.kind }
    shown(now.sign_ins)
    key.label = ''
  },
})
const address = computed(() => {
  if (!made.value) return ''
  const calendar = `${location.origin}/api/upkeep/calendar.ics?key=${made.value.key}`
  return made.value.kind === 'calendar' ? calendar : made.value.key
})
</script>

<template>
  <OfficeTabs />
  <div v-if="me" class="page">
    <p class="intro">
      <b>{{ me.name }}</b>, {{ me.role }}:
      <span class="soft">{{ inWords(me.role) }}</span>
    </p>
    <p class="buttons">
      <v-btn @click="signOut()">Sign out</v-btn>
      <v-btn @click="everywhere.mutate()">Sign out everywhere, keys too</v-btn>
      <span v-if="everywhere.error.value" class="rust">{{ everywhere.error.value.message }}</span>
    </p>

    <div class="columns">
      <section aria-labelledby="password">
        <h2 id="password">Password</h2>
        <form class="fields" @submit.prevent="change.mutate()">
          <UsernameField :name="me.name" />
          <v-text-field
            v-model="password.old"
            label="As it is"
            type="password"
            autocomplete="current-password"
            maxlength="200"
          />
          <v-text-field
            v-model="password.new"
            label="New, 12 characters or more"
            type="password"
            autocomplete="new-password"
            maxlength="200"
          />
          <v-text-field
            v-model="password.again"
            label="Repeat the new password"
            type="password"
            autocomplete="new-password"
            maxlength="200"
          />
          <p v-if="change.error.value" class="rust" role="alert">
            ⚠ {{ change.error.value.message }}
          </p>
          <p v-if="change.isSuccess.value" role="status">
            Password changed. Other browsers are signed out; keys still work.
          </p>
          <v-btn
            type="submit"
            :disabled="password.new.length < 12 || password.new !== password.again"
            :loading="change.isPending.value"
          >
            Change the password
          </v-btn>
        </form>
        <TwoStep class="second" />
      </section>

      <section aria-labelledby="where">
        <h2 id="where">Signed in at</h2>
        <table>
          <tbody>
            <tr v-for="s in browsers" :key="s.id">
              <td class="agent" :title="s.label">{{ browserName(s.label) }}</td>
              <td class="soft">{{ s.here ? 'here, now' : ago(s.seen_at) }}</td>
              <td class="number">
                <button
                  v-if="!s.here"
                  type="button"
                  class="plain link"
                  :aria-label="`End ${browserName(s.label)}`"
                  @click="end.mutate(s.id)"
                >
                  end
                </button>
              </td>
            </tr>
          </tbody>
        </table>

        <h2>Keys for programs and calendars</h2>
        <p class="soft small">
          A program shows its key as <code>Authorization: Bearer …</code> and acts as you, or as
          less.
        </p>
        <table v-if="keys.length">
          <tbody>
            <tr v-for="s in keys" :key="s.id">
              <td>{{ s.label }}</td>
              <td class="soft">
                {{ s.kind }}<template v-if="s.role">, as {{ s.role }}</template>
              </td>
              <td class="soft">used {{ ago(s.seen_at) }}</td>
              <td class="number">
                <button
                  type="button"
                  class="plain link"
                  :aria-label="`End ${s.label}`"
                  @click="end.mutate(s.id)"
                >
                  end
                </button>
              </td>
            </tr>
          </tbody>
        </table>
        <form class="key" @submit.prevent="make.mutate()">
          <v-text-field v-model="key.label" label="What it is for" maxlength="80" />
          <v-select v-model="key.kind" label="Kind" :items="['program', 'calendar']" />
          <v-select
            v-if="key.kind === 'program'"
            v-model="key.role"
            label="May"
            :items="[
              { value: '', title: 'as I may' },
              ...given.map((r) => ({ value: r.key, title: `as ${r.key}` })),
            ]"
          />
          <v-btn type="submit" :disabled="!key.label.trim()" :loading="make.isPending.value">
            Make a key
          </v-btn>
        </form>
        <p v-if="make.error.value" class="rust" role="alert">⚠ {{ make.error.value.message }}</p>
        <ShownOnce v-if="made" :value="address" label="The key" role="status" @done="made = null">
          Copy it now. It is shown only once.
        </ShownOnce>
      </section>
    </div>
  </div>
</template>

<style scoped>
.intro {
  margin: 0 0 8px;
}

.columns {
  display: grid;
  grid-template-columns: minmax(260px, 340px) minmax(0, 640px);
  gap: 24px 48px;
}

.second {
  margin-top: 26px;
}

.agent {
  max-width: 300px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

h2:not(:first-child) {
  margin-top: 26px;
}

.key {
  display: grid;
  grid-template-columns: 2fr 1fr 1fr auto;
  gap: 10px;
  align-items: center;
  margin-top: 12px;
}

@media (max-width: 899px) {
  .columns,
  .key {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
