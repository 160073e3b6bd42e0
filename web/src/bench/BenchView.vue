<script setup lang="ts">
import { ElButton, ElOption, ElSelect } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { answer, client, type Schemas } from '@/api/client'
import { useKeys } from '@/app/keys'
import ProblemNote from '@/shared/ProblemNote.vue'
import ChooseVehicle from './ChooseVehicle.vue'
import LiveTraces from './LiveTraces.vue'
import ScanPanel from './ScanPanel.vue'
import SetUpCard from './SetUpCard.vue'
import { useBench } from './useBench'

/** The instruments: connect, set up, crank, watch it live, keep it. */
const route = useRoute()
const router = useRouter()
const { state, problem, busy, online, live, frames, verb } = useBench()

const choices = ref<Schemas['Choices'] | null>(null)
const caseTitle = ref('')
const ticked = ref<string[]>([])
const test = ref('relative_compression')
const caseId = computed(() => Number(route.query.case) || null)
const panel = computed(() => (route.query.panel === 'scan' ? 'scan' : 'scope'))
const showBalance = ref('')

async function loadChoices() {
  choices.value = await answer(client.GET('/api/bench/choices/'))
}
void loadChoices()
watch(
  caseId,
  async (id) => {
    if (!id) return
    const board = await answer(client.GET('/api/cases/{case_id}/', { params: { path: { case_id: id } } }))
    caseTitle.value = board.case.title
  },
  { immediate: true },
)
watch(
  () => route.query.test,
  (wanted) => typeof wanted === 'string' && wanted && (test.value = wanted),
  { immediate: true },
)

const here = computed(() => state.value?.vehicle ?? null)
const suspects = computed(() =>
  String(route.query.suspects ?? '')
    .split(',')
    .map(Number)
    .filter(Boolean),
)

const body = { headers: {} }
async function choose(what: Schemas['ChooseRequest']) {
  await verb('vehicle', () => answer(client.POST('/api/bench/vehicle/', { body: what })))
  ticked.value = []
  await loadChoices()
}
const scope = (on: boolean) => verb('scope', () => answer(client.POST('/api/bench/scope/', { body: { on } })))
const scan = (on: boolean) => verb('scan', () => answer(client.POST('/api/bench/scan/', { body: { on } })))
const fuel = (on: boolean) => verb('fuel', () => answer(client.POST('/api/bench/fuel/', { body: { on } })))
const engine = (on: boolean) =>
  verb('engine', () => answer(client.POST('/api/bench/engine/', { body: { on, load: 'idle' } })))
const balance = (on: boolean) =>
  verb('balance', () => answer(client.POST('/api/bench/balance/', { body: { on } })))
const pull = () => verb('plug', () => answer(client.POST('/api/bench/plug/', body)))
const stop = () => verb('stop', () => answer(client.POST('/api/bench/stop/', body)))
const reveal = () => verb('reveal', () => answer(client.POST('/api/bench/reveal/', body)))
const clear = () => verb('clear', () => answer(client.DELETE('/api/bench/')))
async function setUp() {
  const done = await verb('set_up', () =>
    answer(
      client.POST('/api/bench/set-up/', {
        body: { test: test.value as 'crank_speed', suspects: suspects.value },
      }),
    ),
  )
  if (done) ticked.value = state.value?.fuel_disabled ? ['fuel_off'] : []
}
const go = (list: string[]) =>
  verb('go', () => answer(client.POST('/api/bench/go/', { body: { ticked: list } })))
async function keep() {
  if (!['captured', 'broken_off'].includes(state.value?.stage ?? '')) return
  await verb('keep', async () => {
    await answer(client.POST('/api/bench/keep/', body))
    return await answer(client.GET('/api/bench/'))
  })
}
useKeys({ k: () => void keep() })

const battery = computed(() => {
  const volts = state.value?.battery_v
  return volts == null ? '' : `${volts.toFixed(2)} V${state.value?.battery_low ? ', charge it' : ''}`
})
const starter = computed(() => {
  const heat = Math.round(100 * (state.value?.starter_heat ?? 0))
  return heat < 5 ? 'cool' : heat > 75 ? `hot, ${heat} %: let it cool` : `warm, ${heat} %`
})
const clock = computed(() => {
  const s = state.value
  if (!s || s.stage !== 'recording') return ''
  return `${Math.min(s.elapsed_s, s.seconds).toFixed(1)} of ${s.seconds} s`
})
</script>

<template>
  <div class="page bench" :data-stage="state?.stage" :data-version="state?.version" data-test="bench">
    <header class="page-head">
      <div>
        <h1>Bench</h1>
        <p v-if="here" class="soft">
          {{ here.model }}<template v-if="here.case_title"> · {{ here.case_title }}</template>
        </p>
      </div>
      <div v-if="here" class="actions">
        <el-button v-if="here.hidden && !here.fault" @click="reveal">Show what is wrong</el-button>
        <p v-else class="small">
          <span class="soft">What is wrong:</span> <strong>{{ here.fault }}</strong>
        </p>
        <el-button data-test="to-board" @click="router.push(`/cases/${here.case}`)">Open the board</el-button>
        <el-button @click="clear">Take it out</el-button>
      </div>
    </header>
    <p v-if="!online && state" class="offline" role="status">
      The connection to the server is down. Trying again; nothing is lost.
    </p>
    <problem-note :problem="problem" />

    <choose-vehicle
      v-if="state && !here && choices"
      :choices="choices"
      :case-id="caseId"
      :case-title="caseTitle"
      :busy="busy === 'vehicle'"
      @choose="choose"
    />

    <template v-if="state && here">
      <div class="strip">
        <p class="big" role="status" data-test="big">{{ state.big }}</p>
        <p v-if="clock" class="clock number">{{ clock }}</p>
        <dl>
          <div>
            <dt>Scope</dt>
            <dd>
              {{
                state.scope === 'connected' ? 'connected' : state.scope === 'lost' ? 'lost' : 'not connected'
              }}
            </dd>
          </div>
          <div>
            <dt>Scan link</dt>
            <dd>{{ state.scan_connected ? 'connected' : 'not connected' }}</dd>
          </div>
          <div>
            <dt>Fuel</dt>
            <dd :class="{ alarm: state.fuel_disabled }">{{ state.fuel_disabled ? 'disabled' : 'on' }}</dd>
          </div>
          <div>
            <dt>Battery</dt>
            <dd class="number" :class="{ alarm: state.battery_low }">{{ battery }}</dd>
          </div>
          <div>
            <dt>Starter</dt>
            <dd>{{ starter }}</dd>
          </div>
        </dl>
      </div>
      <div class="actions switches">
        <el-button
          :type="state.scope === 'connected' ? 'default' : 'primary'"
          :loading="busy === 'scope'"
          data-test="scope"
          @click="scope(state.scope !== 'connected')"
          >{{
            state.scope === 'connected'
              ? 'Let go of the scope'
              : state.scope === 'lost'
                ? 'Connect the scope again'
                : 'Connect the scope'
          }}</el-button
        >
        <el-button :loading="busy === 'scan'" data-test="scan" @click="scan(!state.scan_connected)">{{
          state.scan_connected ? 'Unplug the scan link' : 'Connect the scan link'
        }}</el-button>
        <el-button :loading="busy === 'fuel'" data-test="fuel-switch" @click="fuel(state.fuel_disabled)">{{
          state.fuel_disabled ? 'Put the fuel back' : 'Disable the fuel'
        }}</el-button>
        <el-button v-if="state.scope === 'connected'" link data-test="pull" @click="pull"
          >Pull the scope's plug</el-button
        >
        <nav class="panels" aria-label="Instrument">
          <router-link
            :to="{ query: { ...route.query, panel: undefined } }"
            :class="{ on: panel === 'scope' }"
            >Scope</router-link
          >
          <router-link
            :to="{ query: { ...route.query, panel: 'scan' } }"
            :class="{ on: panel === 'scan' }"
            data-test="scan-panel"
            >Scan link</router-link
          >
        </nav>
      </div>

      <div v-if="state.problem" class="lost" role="alert" data-test="lost">
        <strong>{{ state.problem }}</strong>{{ ' ' }}
        <template v-if="state.stage === 'broken_off'">
          {{ state.recorded_s }} s were recorded: keep them, or connect again and crank again.</template
        >
      </div>

      <div v-if="panel === 'scope'" class="work">
        <div class="sheet">
          <live-traces
            v-if="state.leads.length"
            :live="live"
            :leads="state.leads"
            :seconds="state.seconds"
            :rate="state.rate_hz"
            :data-frames="frames"
          />
          <p v-else class="empty soft">
            {{
              state.scope === 'connected'
                ? 'Choose a test; its card says where to clip on.'
                : 'Connect the scope, then choose a test.'
            }}
          </p>
        </div>
        <aside>
          <div class="pick">
            <el-select v-model="test" aria-label="Test" data-test="test">
              <el-option v-for="t in choices?.tests ?? []" :key="t.test" :value="t.test" :label="t.title" />
            </el-select>
            <el-button
              :disabled="state.scope !== 'connected' || state.stage === 'recording'"
              :loading="busy === 'set_up'"
              data-test="set-up"
              @click="setUp"
              >Open its card</el-button
            >
          </div>
          <p v-if="state.stage === 'kept'" class="kept" role="status" data-test="kept">
            Kept. <router-link :to="`/cases/${here.case}`">The board has it.</router-link>
          </p>
          <set-up-card
            v-if="state.test"
            v-model:ticked="ticked"
            :state="state"
            :busy="busy"
            @go="go"
            @stop="stop"
            @keep="keep"
          />
        </aside>
      </div>
      <template v-else>
        <scan-panel
          v-if="state.scan_connected"
          :state="state"
          :busy="busy"
          @engine="engine"
          @balance="balance"
          @kept="showBalance = 'kept'"
        />
        <p v-else class="soft">Connect the scan link to read codes, counts and live values.</p>
      </template>
    </template>
    <p v-else-if="!state" class="soft">Looking at the bench …</p>
  </div>
</template>

<style scoped>
.bench {
  max-width: none;
  padding-bottom: 16px;
}
.page-head {
  margin-bottom: 10px;
}
.strip {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 28px;
  border-top: 2px solid var(--ink);
  border-bottom: 1px solid var(--rule);
  padding: 10px 0;
}
.big {
  font-size: 2.3rem;
  font-weight: 700;
  line-height: 1.1;
}
.clock {
  font-size: 1.6rem;
}
dl {
  display: flex;
  gap: 24px;
  margin: 0 0 0 auto;
}
dt {
  font-size: 14px;
  color: var(--ink-soft);
}
dd {
  margin: 0;
  font-weight: 600;
}
.switches {
  padding: 10px 0;
}
.switches .el-button {
  margin: 0;
}
.panels {
  margin-left: auto;
  display: flex;
}
.panels a {
  min-height: 44px;
  display: flex;
  align-items: center;
  padding: 0 16px;
  border: 1px solid var(--rule);
  text-decoration: none;
  color: var(--ink);
}
.panels a.on {
  background: var(--ink);
  color: var(--work);
  font-weight: 600;
}
.lost,
.offline {
  border: 2px solid var(--alarm);
  border-radius: 3px;
  padding: 10px 14px;
  margin-bottom: 10px;
}
.work {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 372px;
  gap: 20px;
}
.sheet {
  height: max(360px, calc(100vh - 222px));
  position: sticky;
  top: 8px;
  background: var(--work);
}
.empty {
  border: 1px dashed var(--rule);
  height: 100%;
  display: grid;
  place-items: center;
}
.pick {
  display: flex;
  gap: 8px;
  margin-bottom: 12px;
}
.kept {
  border: 2px solid var(--ink);
  border-radius: 3px;
  padding: 8px 12px;
  margin-bottom: 10px;
  font-weight: 600;
}
</style>
