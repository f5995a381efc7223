<script setup lang="ts">
import { useTemplateRef } from 'vue'
import { session } from '@/api/session'
import type { DemoPersonOut } from '@/api/schema'
import FrontDoor from './FrontDoor.vue'
import SignInForm from './SignInForm.vue'
import { inWords } from './roles'

const form = useTemplateRef('form')
const be = (person: DemoPersonOut) => form.value?.enter.mutate([person.name, person.password])
</script>

<template>
  <FrontDoor v-if="session" title="Maple Rook" :shop="session.shop">
    <template v-if="session.has_owner">
      <SignInForm ref="form" />
      <p v-if="!session.demo.length" class="soft small hint">
        Forgotten your password? Ask an owner of the shop for a new invitation.
      </p>
    </template>
    <template v-else>
      <p>This shop has no owner yet.</p>
      <p>
        Open the address that <code>./rook start</code> printed where it was started: whoever opens
        it becomes the owner, names the shop and invites the others.
      </p>
    </template>
    <section v-if="session.demo.length" aria-labelledby="demo">
      <h2 id="demo">Demo shop: choose who to sign in as</h2>
      <ul>
        <li v-for="person in session.demo" :key="person.name">
          <button type="button" class="plain" @click="be(person)">
            <b>{{ person.name }}</b>
            <span class="soft small">{{ inWords(person.role) }}</span>
          </button>
        </li>
      </ul>
      <p class="soft small">
        Everybody's password here is <b>{{ session.demo[0]?.password }}</b>. Knives, people and
        figures are all invented.
      </p>
    </section>
  </FrontDoor>
</template>

<style scoped>
section {
  margin-top: 30px;
}

ul {
  list-style: none;
  padding: 0;
  margin: 0 0 10px;
}

li button {
  display: flex;
  flex-direction: column;
  width: 100%;
  padding: 8px 10px;
  text-align: left;
  border-bottom: 1px solid var(--hairline);
}

li button:hover {
  background: var(--panel);
}

.hint {
  margin-top: 14px;
}
</style>
