<script setup lang="ts">
import { ElButton, ElOption, ElSelect } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { client, unwrap, type Schemas } from '@/api/client'
import { useKeys } from '@/app/keys'
import ProblemNote from '@/shared/ProblemNote.vue'
import BenchStrip from './BenchStrip.vue'
import BenchSwitches from './BenchSwitches.vue'
import ChooseVehicle from './ChooseVehicle.vue'
import LiveTraces from './LiveTraces.vue'
import ScanPanel from './ScanPanel.vue'
import SetUpCard from './SetUpCard.vue'
import { useAlarm } from './useAlarm'
import { useBench } from './useBench'
import { useBenchVerbs } from './useBenchVerbs'

/** The instruments: connect, set up, crank, watch it live, keep it. */
const route = useRoute()
const router = useRouter()
const bench = useBench()
const { state, problem, busy, online, live, frames } = bench
const verbs = useBenchVerbs(bench)
const { ticked, choose, scope, scan, fuel, engine, balance, pull, stop, reveal, clear, go, setUp, keep } =
  verbs
useKeys({ k: () => void keep() })
useAlarm(() => (state.value?.losses.length ?? 0) > 0)

const choices = ref<Schemas['Choices'] | null>(null)
const caseTitle = ref('')
const test = ref('relative_compression')
const caseId = computed(() => Number(route.query.case) || null)
const panel = computed(() => (route.query.panel === 'scan' ? 'scan' : 'scope'))
const here = computed(() => state.value?.vehicle ?? null)
const suspects = computed(() =>
  String(route.query.suspects ?? '')
    .split(',')
    .map(Number)
    .filter(Boolean),
)
async function loadChoices() {
  choices.value = await unwrap(client.GET('/api/bench/choices/'))
}
void loadChoices()
async function chosen(what: Schemas['ChooseRequest']) {
  await choose(what)
  await loadChoices()
}
watch(
  caseId,
  async (id) => {
    if (!id) return
    const board = await unwrap(client.GET('/api/cases/{case_id}/', { params: { path: { case_id: id } } }))
    caseTitle.value = board.case.title
  },
  { immediate: true },
)
watch(
  () => route.query.test,
  (wanted) => typeof wanted === 'string' && wanted && (test.value = wanted),
  { immediate: true },
)
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
      @choose="chosen"
    />

    <template v-if="state && here">
      <bench-strip :state="state" />
      <bench-switches
        :state="state"
        :busy="busy"
        :panel="panel"
        @scope="scope"
        @scan="scan"
        @fuel="fuel"
        @pull="pull"
      />

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
            :marks="state.losses.map((loss) => loss.at_s)"
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
              :disabled="state.scope !== 'connected' || ['recording', 'watching'].includes(state.stage)"
              :loading="busy === 'set_up'"
              data-test="set-up"
              @click="setUp(test, suspects)"
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
            @watch="verbs.watch"
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
/* The set-up first, what comes in below it. */
@media (max-width: 899px) {
  .work {
    grid-template-columns: minmax(0, 1fr);
  }
  .sheet {
    position: static;
    height: 46vh;
    order: 2;
  }
  .pick {
    flex-wrap: wrap;
  }
}
.kept {
  border: 2px solid var(--ink);
  border-radius: 3px;
  padding: 8px 12px;
  margin-bottom: 10px;
  font-weight: 600;
}
</style>
