<script setup lang="ts">
import { ElButton, ElMessage } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { useIntervalFn } from '@vueuse/core'
import { client, unwrap, type Problem, type Schemas } from '@/api/client'
import ProblemNote from '@/shared/ProblemNote.vue'
import type { Bench } from './useBench'

/** Codes, counts, live values and the power balance over the scan link. */
const props = defineProps<{ state: Bench; busy: string }>()
const emit = defineEmits<{ engine: [on: boolean]; balance: [on: boolean]; kept: [] }>()

const READ_MS = 700
const scan = ref<Schemas['Scan'] | null>(null)
const problem = ref<Problem | null>(null)
const running = computed(() => props.state.engine === 'running')
const complete = computed(
  () => !props.state.balance.running && props.state.balance.drops.length === props.state.vehicle?.cylinders,
)
const most = computed(() =>
  Math.max(1, ...props.state.balance.drops.map((d) => Math.max(0, d.rpm_before - d.rpm_after))),
)
const drops = computed(() =>
  props.state.balance.drops.map((d) => ({ ...d, drop: Math.max(0, d.rpm_before - d.rpm_after) })),
)

const { pause, resume } = useIntervalFn(read, READ_MS, { immediate: false })
async function read() {
  if (props.state.balance.running) return // the link belongs to the balance
  try {
    scan.value = await unwrap(client.GET('/api/bench/scan/'))
    problem.value = null
  } catch (fault) {
    problem.value = fault as Problem
  }
}
watch(
  () => props.state.scan_connected,
  (on) => (on ? (void read(), resume()) : (pause(), (scan.value = null))),
  { immediate: true },
)
async function sent(call: Promise<unknown>, done: string) {
  try {
    await call
    ElMessage({ message: done, type: 'success' })
    emit('kept')
  } catch (fault) {
    problem.value = fault as Problem
  }
}
const clearCodes = () => sent(unwrap(client.DELETE('/api/bench/scan/codes/')), 'Codes cleared')
const keepCodes = () => sent(unwrap(client.POST('/api/bench/scan/codes/')), 'Codes kept in the case')
const keepCounts = () => sent(unwrap(client.POST('/api/bench/scan/counts/')), 'Counts kept')
const keepBalance = () => sent(unwrap(client.POST('/api/bench/balance/keep/')), 'Power balance kept')
</script>

<template>
  <section class="scan" aria-labelledby="scan-title">
    <h2 id="scan-title" class="visually-hidden">Scan link</h2>
    <problem-note :problem="problem" />
    <div class="row">
      <el-button :disabled="state.fuel_disabled" @click="emit('engine', !running)">{{
        running ? 'Stop the engine' : 'Start the engine'
      }}</el-button>
      <p v-if="state.fuel_disabled" class="small soft">
        The fuel is disabled. Put it back to start the engine.
      </p>
    </div>
    <div v-if="scan" class="columns">
      <div>
        <h3>Live values</h3>
        <dl>
          <template v-for="v in scan.live" :key="v.name">
            <dt>{{ v.name }}</dt>
            <dd class="number">{{ +v.value.toFixed(1) }} {{ v.unit === 'degC' ? '°C' : v.unit }}</dd>
          </template>
        </dl>
      </div>
      <div>
        <h3>Codes</h3>
        <p v-if="!scan.codes.length" class="soft">None stored.</p>
        <ul>
          <li v-for="c in scan.codes" :key="c.code">
            <span class="number">{{ c.code }}</span> {{ c.status }}
          </li>
        </ul>
        <div class="row">
          <el-button data-test="keep-codes" @click="keepCodes">{{
            scan.codes.length ? 'Keep codes' : 'Keep: scanned, none'
          }}</el-button>
          <el-button v-if="scan.codes.length" @click="clearCodes">Clear codes</el-button>
        </div>
        <h3>Misfire counts</h3>
        <ul class="counts">
          <li v-for="c in scan.counts" :key="c.cylinder">
            <span>cylinder {{ c.cylinder }}</span> <span class="number">{{ c.count }}</span>
          </li>
        </ul>
        <el-button v-if="scan.counts.length" @click="keepCounts">Keep counts</el-button>
      </div>
      <div>
        <h3>Power balance</h3>
        <p class="small soft">
          Cuts the fuel of one cylinder at a time for a second and gives it back. Short cuts only: raw fuel
          overheats the catalyst.
        </p>
        <ol class="drops">
          <li v-for="d in drops" :key="d.cylinder">
            <span class="number">{{ d.cylinder }}</span>
            <span class="bar"><span :style="{ width: `${(100 * d.drop) / most}%` }"></span></span>
            <span class="number">−{{ d.drop }} rpm</span>
          </li>
        </ol>
        <p v-if="state.balance.running" role="status">
          Cylinder {{ state.balance.cylinder }}:
          {{ state.balance.phase === 'cut' ? 'cut' : 'back to baseline' }}
        </p>
        <div class="row">
          <el-button
            :disabled="!running"
            data-test="balance"
            @click="emit('balance', !state.balance.running)"
            >{{ state.balance.running ? 'Stop and give back' : 'Run power balance' }}</el-button
          >
          <el-button v-if="complete" type="primary" data-test="keep-balance" @click="keepBalance"
            >Keep balance</el-button
          >
        </div>
      </div>
    </div>
  </section>
</template>

<style scoped>
.row + h3 {
  margin-top: 14px;
}
.scan {
  display: grid;
  gap: 14px;
}
.row {
  display: flex;
  gap: 12px;
  align-items: center;
  flex-wrap: wrap;
}
.columns {
  display: grid;
  grid-template-columns: 1.1fr 0.9fr 1.3fr;
  gap: 28px;
}
h3 {
  margin: 0 0 8px;
  font-size: 1rem;
}
dl {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 6px 14px;
  margin: 0;
}
dd {
  margin: 0;
  text-align: right;
}
ul,
ol {
  list-style: none;
  padding: 0;
  margin: 0 0 10px;
}
.counts li {
  display: flex;
  justify-content: space-between;
}
.drops li {
  display: grid;
  grid-template-columns: 28px 1fr 96px;
  align-items: center;
  gap: 8px;
  min-height: 30px;
}
.drops .number:last-child {
  text-align: right;
}
.bar {
  height: 14px;
  border: 1px solid var(--rule);
}
.bar span {
  display: block;
  height: 100%;
  background: var(--trace);
}
</style>
