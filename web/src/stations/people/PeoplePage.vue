<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { api, data } from '@/api/client'
import { me, withPassword } from '@/api/session'
import type { InvitedOut, PersonOut, Role } from '@/api/schema'
import { ago } from '@/parts/numbers'
import StateNote from '@/parts/StateNote.vue'
import OfficeTabs from '@/parts/OfficeTabs.vue'
import { given, inWords } from './roles'
import ShownOnce from './ShownOnce.vue'

/** Who works here: invite, another role, a new invitation, good-bye. */
const client = useQueryClient()
const { origin } = location
const key = ['people']
const list = useQuery({ queryKey: key, queryFn: () => data(api.GET('/api/people')) })
const working = computed(() => list.data.value?.filter((p) => p.state !== 'left') ?? [])
const gone = computed(() => list.data.value?.filter((p) => p.state === 'left') ?? [])

const form = reactive<{ name: string; role: Role }>({ name: '', role: 'bench' })
const link = ref<InvitedOut | null>(null)
const leaving = ref<PersonOut | null>(null)
const again = () => client.invalidateQueries({ queryKey: key })

type Write = () => Promise<InvitedOut | PersonOut>
const act = useMutation({
  mutationFn: (write: Write) => withPassword(write),
  onSuccess: (done) => {
    link.value = 'token' in done ? done : null
    leaving.value = null
    form.name = ''
  },
  onSettled: again,
})
const path = (person: PersonOut) => ({ path: { person_id: person.id } })
const seen = (person: PersonOut) => ({ ...path(person), header: { 'If-Match': person.etag } })

function invite(): void {
  const body = { name: form.name.trim(), role: form.role as 'bench' }
  act.mutate(() => data(api.POST('/api/people', { body })))
}
function inviteAgain(person: PersonOut): void {
  act.mutate(() => data(api.POST('/api/people/{person_id}/invitation', { params: path(person) })))
}
function change(person: PersonOut, role: string): void {
  const body = { name: person.name, role: role as 'bench' }
  act.mutate(() => data(api.PUT('/api/people/{person_id}', { params: seen(person), body })))
}
function sendAway(person: PersonOut): void {
  act.mutate(() => data(api.DELETE('/api/people/{person_id}', { params: seen(person) })))
}
</script>

<template>
  <OfficeTabs />
  <StateNote
    v-if="!list.data.value"
    :error="list.error.value"
    waiting="Fetching the people…"
    :retry="() => list.refetch()"
  />
  <div v-else class="page">
    <form class="invite" @submit.prevent="invite">
      <v-text-field v-model="form.name" label="Name" maxlength="80" />
      <v-select v-model="form.role" label="Role" :items="given.map((r) => r.key)" />
      <v-btn
        type="submit"
        color="primary"
        variant="flat"
        :disabled="!form.name.trim()"
        :loading="act.isPending.value"
      >
        Invite
      </v-btn>
      <span class="soft small">{{ inWords(form.role) }}</span>
    </form>
    <p v-if="act.error.value" class="rust" role="alert">⚠ {{ act.error.value.message }}</p>
    <ShownOnce
      v-if="link"
      :value="`${origin}/join#${link.token}`"
      label="Address of the invitation"
      @done="link = null"
    >
      Give <b>{{ link.person.name }}</b> this address. It works once, within {{ link.days }} days,
      and is shown only now.
    </ShownOnce>

    <table>
      <thead>
        <tr>
          <th>who</th>
          <th>role</th>
          <th class="wide">may</th>
          <th>last seen</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="person in working" :key="person.id">
          <td>
            <b>{{ person.name }}</b> <span v-if="person.id === me?.id" class="soft">(you)</span>
          </td>
          <td>
            <select
              :value="person.role"
              :aria-label="`Role of ${person.name}`"
              @change="change(person, ($event.target as HTMLSelectElement).value)"
            >
              <option v-if="person.role === 'elsewhere'" value="elsewhere" disabled>none</option>
              <option v-for="role in given" :key="role.key" :value="role.key">
                {{ role.key }}
              </option>
            </select>
          </td>
          <td class="soft small wide">{{ inWords(person.role) }}</td>
          <td class="soft">
            {{ person.state === 'active' ? (person.seen_at ? ago(person.seen_at) : 'never') : '' }}
            <span v-if="person.state === 'invited'">invited</span>
            <span v-if="person.state === 'cannot'">cannot sign in</span>
          </td>
          <td class="acts">
            <button
              v-if="person.role !== 'elsewhere'"
              type="button"
              class="plain link"
              @click="inviteAgain(person)"
            >
              {{ person.state === 'active' ? 'new password' : 'invite' }}
            </button>
            <button
              v-if="person.id !== me?.id"
              type="button"
              class="plain link"
              @click="leaving = person"
            >
              remove
            </button>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="leaving" role="alert" class="leaving">
      {{ leaving.name }} is signed out everywhere and can no longer sign in. What they recorded
      stays under their name.
      <v-btn @click="sendAway(leaving)">Remove {{ leaving.name }}</v-btn>
      <v-btn variant="text" @click="leaving = null">Cancel</v-btn>
    </p>
    <template v-if="gone.length">
      <h2>Left</h2>
      <p v-for="person in gone" :key="person.id">
        {{ person.name }} <span class="soft">{{ person.role }}</span> ·
        <button type="button" class="plain link" @click="inviteAgain(person)">
          restore access
        </button>
      </p>
    </template>
  </div>
</template>

<style scoped>
.page {
  max-width: 980px;
}

.invite {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
  margin-bottom: 16px;
}

.invite .v-input {
  flex: 0 1 240px;
}

.acts {
  text-align: right;
  white-space: nowrap;
}

.acts button {
  margin-left: 14px;
}

.leaving {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
  margin: 14px 0;
}

h2 {
  margin-top: 24px;
}

@media (max-width: 699px) {
  .wide {
    display: none;
  }

  .acts {
    white-space: normal;
  }
}
</style>
