<script setup lang="ts">
import { ElButton, ElCheckbox, ElConfigProvider, ElDialog } from 'element-plus'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useStorage } from '@vueuse/core'
import { HINTS, keysOn, listenForKeys, useKeys } from './keys'
import YouDialog from '@/people/YouDialog.vue'
import UnitsDialog from './UnitsDialog.vue'
import { useSession } from './session'

const session = useSession()
const route = useRoute()
const router = useRouter()
const showKeys = ref(false)
const showUnits = ref(false)
const showYou = ref(false)
const bay = useStorage<'day' | 'night'>('fair-witness-bay', 'day')
document.documentElement.dataset.bay = bay.value

const caseId = computed(() => (typeof route.params.id === 'string' ? route.params.id : ''))
/** Where a link is opened that is for somebody else, nobody's frame is around it. */
const framed = computed(() => session.loggedIn && !route.meta.open)
const links = computed(() => [
  { name: 'cases', words: 'Cases', to: '/cases' },
  { name: 'intake', words: 'New case', to: '/cases/new' },
  ...(session.state?.role === 'reader'
    ? []
    : [{ name: 'bench', words: 'Bench', to: caseId.value ? `/bench?case=${caseId.value}` : '/bench' }]),
  { name: 'shop', words: 'Shop', to: caseId.value ? `/shop?case=${caseId.value}` : '/shop' },
  { name: 'trust', words: 'Trust', to: '/trust' },
  ...(session.state?.role === 'lead' ? [{ name: 'people', words: 'People', to: '/people' }] : []),
  ...(caseId.value
    ? [
        { name: 'board', words: 'Board', to: `/cases/${caseId.value}` },
        { name: 'evidence', words: 'Add evidence', to: `/cases/${caseId.value}/evidence` },
        { name: 'options', words: 'Ways to go on', to: `/cases/${caseId.value}/options` },
        { name: 'sheet', words: 'Owner’s sheet', to: `/cases/${caseId.value}/sheet` },
        { name: 'visit', words: 'This visit', to: `/cases/${caseId.value}/visit` },
        { name: 'pictures', words: 'Pictures', to: `/cases/${caseId.value}/pictures` },
        { name: 'journal', words: 'Journal', to: `/cases/${caseId.value}/journal` },
        { name: 'replay', words: 'Step by step', to: `/cases/${caseId.value}/replay` },
      ]
    : []),
])

function switchBay() {
  bay.value = bay.value === 'day' ? 'night' : 'day'
  document.documentElement.dataset.bay = bay.value
}
async function leave() {
  await session.close()
  await router.push('/login')
}

listenForKeys()
useKeys({
  '?': () => (showKeys.value = true),
  'g c': () => router.push('/cases'),
  'g n': () => router.push('/cases/new'),
  'g h': () => router.push('/bench'),
  'g t': () => router.push('/trust'),
  'g s': () => router.push('/shop'),
  'g b': () => caseId.value && router.push(`/cases/${caseId.value}`),
  'g j': () => caseId.value && router.push(`/cases/${caseId.value}/journal`),
  e: () => caseId.value && router.push(`/cases/${caseId.value}/evidence`),
})
</script>

<template>
  <el-config-provider size="large">
    <a class="skip" href="#main">Skip to the content</a>
    <div v-if="framed" class="frame">
      <nav class="rail" aria-label="Views">
        <p class="name">Fair<br />Witness</p>
        <router-link
          v-for="link in links"
          :key="link.name"
          :to="link.to"
          :class="{ on: route.name === link.name || (link.name === 'board' && route.name === 'traces') }"
          :aria-current="route.name === link.name ? 'page' : undefined"
          >{{ link.words }}</router-link
        >
        <div class="foot">
          <button type="button" @click="showKeys = true">All keys <span aria-hidden="true">?</span></button>
          <button type="button" data-test="units" @click="showUnits = true">Units</button>
          <button type="button" data-test="bay" @click="switchBay">
            {{ bay === 'day' ? 'Night bay' : 'Day bay' }}
          </button>
          <button type="button" @click="leave">Log out</button>
          <button type="button" class="who" data-test="you" @click="showYou = true">
            {{ session.state?.name }}<br />{{ session.state?.role }}
          </button>
        </div>
      </nav>
      <main id="main" tabindex="-1"><router-view /></main>
    </div>
    <main v-else id="main" tabindex="-1"><router-view /></main>
    <el-dialog v-model="showKeys" title="Keys" width="460px" top="24px">
      <el-checkbox v-model="keysOn" data-test="keys-on">Keys are on</el-checkbox>
      <dl class="keys">
        <template v-for="hint in HINTS" :key="hint.keys">
          <dt>
            <span class="keycap">{{ hint.keys }}</span>
          </dt>
          <dd>{{ hint.does }}</dd>
        </template>
      </dl>
      <p class="soft small">Keys never fire while you type.</p>
      <p class="small"><a href="/licences.txt" target="_blank">What this is made of, and its licences</a></p>
      <template #footer><el-button @click="showKeys = false">Close</el-button></template>
    </el-dialog>
    <you-dialog v-if="session.loggedIn" v-model="showYou" />
    <units-dialog v-if="session.loggedIn" v-model="showUnits" />
  </el-config-provider>
</template>

<style scoped>
.skip {
  position: absolute;
  left: -9999px;
}
.skip:focus {
  left: 8px;
  top: 8px;
  z-index: 10;
  background: var(--work);
  padding: 10px;
}
.frame {
  display: grid;
  grid-template-columns: 120px 1fr;
  min-height: 100vh;
}
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
main {
  min-width: 0;
}
main:focus {
  outline: none;
}
.keys {
  display: grid;
  grid-template-columns: 110px 1fr;
  gap: 8px;
  margin: 0 0 12px;
}
.keys dd {
  margin: 0;
}
/* Held in a hand: the views lie under the thumb, in one row that slides. */
@media (max-width: 899px) {
  .frame {
    grid-template-columns: minmax(0, 1fr);
    padding-bottom: 64px;
  }
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
