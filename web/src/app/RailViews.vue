<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { useSession } from './session'

/** The views, and below them what concerns this screen and this person; in a hand, one row under the thumb. */
const props = defineProps<{ caseId: string; bay: 'day' | 'night' }>()
const emit = defineEmits<{ help: []; units: []; bay: []; leave: []; you: [] }>()
const session = useSession()
const route = useRoute()
const links = computed(() => {
  const at = (path: string) => `/cases/${props.caseId}${path}`
  const of = (path: string) => (props.caseId ? `${path}?case=${props.caseId}` : path)
  const role = session.state?.role
  return [
    { name: 'cases', words: 'Cases', to: '/cases' },
    { name: 'intake', words: 'New case', to: '/cases/new' },
    ...(role === 'reader' ? [] : [{ name: 'bench', words: 'Bench', to: of('/bench') }]),
    { name: 'shop', words: 'Shop', to: of('/shop') },
    { name: 'trust', words: 'Trust', to: '/trust' },
    ...(role === 'lead' ? [{ name: 'people', words: 'People', to: '/people' }] : []),
    ...(props.caseId
      ? [
          { name: 'board', words: 'Board', to: at('') },
          { name: 'evidence', words: 'Add evidence', to: at('/evidence') },
          { name: 'options', words: 'Ways to go on', to: at('/options') },
          { name: 'sheet', words: 'Owner’s sheet', to: at('/sheet') },
          { name: 'visit', words: 'This visit', to: at('/visit') },
          { name: 'pictures', words: 'Pictures', to: at('/pictures') },
          { name: 'journal', words: 'Journal', to: at('/journal') },
          { name: 'replay', words: 'Step by step', to: at('/replay') },
        ]
      : []),
  ]
})
const on = (name: string) => route.name === name || (name === 'board' && route.name === 'traces')
</script>

<template>
  <nav class="rail" aria-label="Views">
    <p class="name">Fair<br />Witness</p>
    <router-link
      v-for="link in links"
      :key="link.name"
      :to="link.to"
      :class="{ on: on(link.name) }"
      :aria-current="route.name === link.name ? 'page' : undefined"
      >{{ link.words }}</router-link
    >
    <div class="foot">
      <button type="button" data-test="help" @click="emit('help')">
        All keys <span aria-hidden="true">?</span>
      </button>
      <button type="button" data-test="units" @click="emit('units')">Units</button>
      <button type="button" data-test="bay" @click="emit('bay')">
        {{ bay === 'day' ? 'Night bay' : 'Day bay' }}
      </button>
      <button type="button" @click="emit('leave')">Log out</button>
      <button type="button" class="who" data-test="you" @click="emit('you')">
        {{ session.state?.name }}<br />{{ session.state?.role }}
      </button>
    </div>
  </nav>
</template>

<style scoped>
.rail {
  background: var(--rail);
  color: var(--rail-ink);
  display: flex;
  flex-direction: column;
  position: sticky;
  top: 0;
  height: 100vh;
  overflow-y: auto;
  scrollbar-width: thin;
}
.rail > * {
  flex-shrink: 0;
}
.name {
  font-weight: 700;
  font-size: 1.15rem;
  line-height: 1.1;
  padding: 14px 14px 10px;
}
.rail a,
.rail button {
  display: flex;
  align-items: center;
  min-height: 44px;
  width: 100%;
  padding: 0 4px 0 12px;
  white-space: nowrap;
  color: var(--rail-ink);
  text-decoration: none;
  text-align: left;
  background: none;
  border: 0;
  border-left: 4px solid transparent;
  font: inherit;
  cursor: pointer;
}
.rail a.on {
  background: var(--rail-on);
  border-left-color: #ffb384;
  font-weight: 600;
  letter-spacing: -0.02em;
}
.rail a:hover,
.rail button:hover {
  background: var(--rail-on);
}
.foot {
  margin-top: auto;
  padding-bottom: 12px;
}
.foot button span {
  margin-left: auto;
  font-family: var(--numbers);
}
.rail button.who {
  display: block;
  padding: 8px 4px 4px 12px;
  white-space: normal;
  font-size: 14px;
  color: #c9d3db;
}
@media (max-width: 899px) {
  .rail {
    position: fixed;
    inset: auto 0 0;
    z-index: 20;
    height: 64px;
    flex-direction: row;
    overflow: auto hidden;
  }
  .name {
    display: none;
  }
  .rail a,
  .rail button,
  .rail button.who {
    display: flex;
    width: auto;
    min-height: 64px;
    padding: 0 16px;
    border-left: 0;
    border-top: 4px solid transparent;
  }
  .rail a.on {
    border-top-color: #ffb384;
  }
  .foot {
    display: flex;
    margin: 0;
    padding: 0;
  }
}
</style>
