<script setup lang="ts">
import { ElButton, ElForm, ElFormItem, ElInput, ElInputNumber, ElOption, ElSelect } from 'element-plus'
import { computed, reactive, ref, shallowRef } from 'vue'
import { watchDebounced } from '@vueuse/core'
import { useRouter } from 'vue-router'
import { answer, client, type Schemas } from '@/api/client'
import { toProblem, type Problem } from '@/api/problems'
import ProblemNote from '@/shared/ProblemNote.vue'
import CrankCircle from './CrankCircle.vue'
import { useEngineCheck, type TypedEngine } from './useEngineCheck'

const router = useRouter()
const engine = reactive<TypedEngine>({
  label: '',
  cylinders: 4,
  firing_order: '1 3 4 2',
  fuel: 'petrol',
  ignition: 'coil_on_plug',
  injection: 'port',
})
const job = reactive({ vehicle: '', complaint: '', complaint_verified: '', work_done: '', codes: '' })
const problem = ref<Problem | null>(null)
const busy = ref(false)
const { check } = useEngineCheck(() => ({ ...engine }))
const ready = computed(() => job.vehicle.trim() !== '' && check.value?.valid === true)

const FUELS = { petrol: 'Petrol', diesel: 'Diesel', lpg: 'LPG', cng: 'CNG' }
const IGNITIONS = {
  coil_on_plug: 'Coil on plug',
  waste_spark: 'Waste spark',
  distributor: 'Distributor',
  compression_ignition: 'Compression ignition',
}
const INJECTIONS = {
  port: 'Port',
  direct: 'Direct',
  common_rail: 'Common rail',
  throttle_body: 'Throttle body',
  carburettor: 'Carburettor',
}

type Suggestion = Schemas['EngineSuggestion']

const SUGGESTED = 4
const suggestions = shallowRef<readonly Suggestion[]>([])
let taken = ''
watchDebounced(
  () => engine.label,
  async (letters) => {
    if (!letters.trim() || letters === taken) return void (suggestions.value = [])
    const found = await answer(client.GET('/api/engines/', { params: { query: { letters } } })).catch(
      () => [],
    )
    suggestions.value = found.slice(0, SUGGESTED)
  },
  { debounce: 150 },
)
function take({ engine: known, label, own }: Suggestion) {
  Object.assign(engine, { banks: undefined, coil_pairs: undefined, firing_intervals_deg: undefined }, known, {
    firing_order: known.firing_order.join(' '),
    injector_feeds: known.injector_feeds?.map((feed) => feed.join(' ')).join(' / '),
    injector_path: known.injector_path?.join(' > '),
    label: own ? label : '',
  })
  taken = engine.label
  suggestions.value = []
}
function changeFuel() {
  if (engine.fuel === 'diesel')
    Object.assign(engine, { ignition: 'compression_ignition', injection: 'common_rail' })
}

async function start() {
  busy.value = true
  problem.value = null
  try {
    const kept = await answer(
      client.POST('/api/cases/', {
        body: {
          title: job.complaint ? `${job.vehicle}, ${job.complaint}`.slice(0, 120) : job.vehicle,
          vehicle: job.vehicle,
          engine: { ...engine },
          complaint: job.complaint,
          complaint_verified: job.complaint_verified,
          work_done: job.work_done.split('\n').filter((line) => line.trim()),
          codes: job.codes
            .split(/[\s,;]+/)
            .filter(Boolean)
            .map((code) => ({ code: code.toUpperCase(), status: 'stored' })),
        },
      }),
    )
    await router.push(`/cases/${kept.id}/evidence`)
  } catch (fault) {
    problem.value = toProblem(fault)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div class="page">
    <h1>New case</h1>
    <el-form label-position="top" class="form" @submit.prevent="start">
      <section>
        <h2>Vehicle and complaint</h2>
        <el-form-item label="Vehicle" for="vehicle">
          <el-input id="vehicle" v-model="job.vehicle" autofocus placeholder="Minibus 3" />
        </el-form-item>
        <el-form-item label="Complaint, in the driver's words" for="complaint">
          <el-input id="complaint" v-model="job.complaint" type="textarea" :rows="2" />
        </el-form-item>
        <el-form-item label="Verified in person, when" for="verified">
          <el-input
            id="verified"
            v-model="job.complaint_verified"
            placeholder="cold, idle; empty if not yet"
          />
        </el-form-item>
        <el-form-item label="Work already done, one line each" for="work">
          <el-input id="work" v-model="job.work_done" type="textarea" :rows="2" />
        </el-form-item>
        <el-form-item label="Codes" for="codes">
          <el-input id="codes" v-model="job.codes" placeholder="P0303" />
        </el-form-item>
      </section>
      <section>
        <h2>Engine</h2>
        <el-form-item label="A few letters of a known engine, or a new name" for="label">
          <el-input id="label" v-model="engine.label" autocomplete="off" />
        </el-form-item>
        <ul v-if="suggestions.length" class="suggestions" aria-label="Engines that match">
          <li v-for="found in suggestions" :key="found.label">
            <button type="button" data-test="suggestion" @click="take(found)">{{ found.label }}</button>
          </li>
        </ul>
        <div class="pair">
          <el-form-item label="Cylinders" for="cylinders">
            <el-input-number
              id="cylinders"
              v-model="engine.cylinders"
              :min="1"
              :max="16"
              aria-label="Cylinders"
            />
          </el-form-item>
          <el-form-item label="Firing order" for="order">
            <el-input id="order" v-model="engine.firing_order" class="number" inputmode="numeric" />
          </el-form-item>
        </div>
        <div class="circle" aria-live="polite">
          <crank-circle :places="check?.places ?? []" :problem="check?.problem ?? ''" />
          <p v-if="check?.problem" class="alarm" data-test="engine-problem">
            <strong>{{ check.problem }}</strong>
          </p>
          <p v-else-if="check" class="small">
            <template v-if="check.pairs.length"
              >Companions:
              <span v-for="(pair, i) in check.pairs" :key="i" class="number"
                ><template v-if="i">, </template>{{ pair.join(' and ') }}</span
              ></template
            >
            <template v-else>No companions in this order.</template>
          </p>
        </div>
        <div class="three">
          <el-form-item label="Fuel"
            ><el-select v-model="engine.fuel" aria-label="Fuel" @change="changeFuel"
              ><el-option v-for="(words, key) in FUELS" :key="key" :value="key" :label="words" /></el-select
          ></el-form-item>
          <el-form-item label="Ignition"
            ><el-select v-model="engine.ignition" aria-label="Ignition"
              ><el-option
                v-for="(words, key) in IGNITIONS"
                :key="key"
                :value="key"
                :label="words" /></el-select
          ></el-form-item>
          <el-form-item label="Injection"
            ><el-select v-model="engine.injection" aria-label="Injection"
              ><el-option
                v-for="(words, key) in INJECTIONS"
                :key="key"
                :value="key"
                :label="words" /></el-select
          ></el-form-item>
        </div>
        <details class="circuit">
          <summary>Injector circuit, if you know it</summary>
          <el-form-item label="Injectors on one feed, groups parted by /" for="feeds">
            <el-input id="feeds" v-model="engine.injector_feeds" placeholder="1 2 3 / 4 5 6" />
          </el-form-item>
          <el-form-item label="Places you can measure at, from the feed to the driver" for="path">
            <el-input
              id="path"
              v-model="engine.injector_path"
              placeholder="fuse > connector at bulkhead > injector plug > control unit"
            />
          </el-form-item>
        </details>
      </section>
      <footer>
        <problem-note :problem="problem" />
        <el-button
          type="primary"
          native-type="submit"
          :disabled="!ready"
          :loading="busy"
          data-test="start-case"
          >Start case</el-button
        >
        <span v-if="!ready" class="soft small">A case needs a vehicle and an engine that can be.</span>
      </footer>
    </el-form>
  </div>
</template>

<style scoped>
.form {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px 44px;
  margin-top: 14px;
}
h2 {
  margin-bottom: 8px;
  padding-bottom: 4px;
  border-bottom: 2px solid var(--ink);
}
footer {
  grid-column: 1 / -1;
}
footer .soft {
  margin-left: 12px;
}
.suggestions {
  list-style: none;
  margin: -8px 0 10px;
  padding: 0;
  border: 1px solid var(--ink);
}
.suggestions button {
  width: 100%;
  min-height: 44px;
  text-align: left;
  padding: 0 14px;
  border: 0;
  background: var(--bench);
  color: inherit;
  font-size: 1rem;
  cursor: pointer;
}
.suggestions button:hover {
  background: var(--stripe);
}
.circuit summary {
  cursor: pointer;
  min-height: 44px;
  display: flex;
  align-items: center;
  font-weight: 600;
}
.pair {
  display: grid;
  grid-template-columns: 170px 1fr;
  gap: 16px;
}
.three {
  display: grid;
  grid-template-columns: 1fr 1.3fr 1.2fr;
  gap: 12px;
}
.circle {
  display: flex;
  gap: 18px;
  align-items: center;
  min-height: 290px;
}
:deep(.el-form-item) {
  margin-bottom: 12px;
}
</style>
