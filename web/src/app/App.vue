<script setup lang="ts">
import { ElConfigProvider } from 'element-plus'
import { computed, defineAsyncComponent, ref, watch, type Ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useStorage } from '@vueuse/core'
import { connection, whenBack } from '@/api/connection'
import { reloadAll } from '@/shared/useLoaded'
import ConnectionStrip from './ConnectionStrip.vue'
import { listenForKeys, useKeys } from './keys'
import { flush, openOutbox } from './outbox'
import RailViews from './RailViews.vue'
import { useSession } from './session'

const KeySheet = defineAsyncComponent(() => import('./KeySheet.vue'))
const UnitsDialog = defineAsyncComponent(() => import('./UnitsDialog.vue'))
const YouDialog = defineAsyncComponent(() => import('@/people/YouDialog.vue'))

const session = useSession()
const route = useRoute()
const router = useRouter()
const showKeys = ref(false)
const showUnits = ref(false)
const showYou = ref(false)
/** A dialog is fetched when it is first opened, and stays. */
function opened(shown: Ref<boolean>): Ref<boolean> {
  const ever = ref(false)
  watch(shown, (now) => (ever.value ||= now))
  return ever
}
const [keysOpened, unitsOpened, youOpened] = [opened(showKeys), opened(showUnits), opened(showYou)]
const bay = useStorage<'day' | 'night'>('fair-witness-bay', 'day')
document.documentElement.dataset.bay = bay.value

const caseId = computed(() => (typeof route.params.id === 'string' ? route.params.id : ''))
/** Where a link is opened that is for somebody else, nobody's frame is around it. */
const framed = computed(() => session.loggedIn && !route.meta.open)
/** Opened where the server does not answer: nobody knows who asks. */
const adrift = computed(() => !session.state && connection.lostAt !== null)

function switchBay() {
  bay.value = bay.value === 'day' ? 'night' : 'day'
  document.documentElement.dataset.bay = bay.value
}
async function leave() {
  await session.close()
  await router.push('/login')
}
void openOutbox().then(() => flush())
whenBack(() => {
  if (session.state) void reloadAll()
  else window.location.reload()
})

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
  'g o': () => caseId.value && router.push(`/cases/${caseId.value}/sheet`),
  'g v': () => caseId.value && router.push(`/cases/${caseId.value}/visit`),
  'g p': () => caseId.value && router.push(`/cases/${caseId.value}/pictures`),
  d: switchBay,
  e: () => caseId.value && router.push(`/cases/${caseId.value}/evidence`),
})
</script>

<template>
  <el-config-provider size="large">
    <a class="skip" href="#main">Skip to the content</a>
    <main v-if="adrift" id="main" class="page" data-test="adrift">
      <connection-strip />
      <h1>No connection</h1>
      <p>The workshop’s server does not answer. This page opens by itself once it does.</p>
    </main>
    <div v-else-if="framed" class="frame">
      <rail-views
        :case-id="caseId"
        :bay="bay"
        @help="showKeys = true"
        @units="showUnits = true"
        @bay="switchBay"
        @leave="leave"
        @you="showYou = true"
      />
      <main id="main" tabindex="-1"><connection-strip /><router-view /></main>
    </div>
    <main v-else id="main" tabindex="-1"><router-view /></main>
    <key-sheet v-if="keysOpened" v-model="showKeys" />
    <template v-if="session.loggedIn">
      <you-dialog v-if="youOpened" v-model="showYou" />
      <units-dialog v-if="unitsOpened" v-model="showUnits" />
    </template>
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
main {
  min-width: 0;
}
main:focus {
  outline: none;
}
/* Held in a hand: the views lie under the thumb, in one row that slides. */
@media (max-width: 899px) {
  .frame {
    grid-template-columns: minmax(0, 1fr);
    padding-bottom: 64px;
  }
}
</style>
