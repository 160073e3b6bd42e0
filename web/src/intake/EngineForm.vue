<script setup lang="ts">
import {
  ElCheckbox,
  ElCheckboxGroup,
  ElFormItem,
  ElInput,
  ElInputNumber,
  ElOption,
  ElSelect,
} from 'element-plus'
import { computed } from 'vue'
import CrankCircle from './CrankCircle.vue'
import { useEngineSuggestions } from './useEngineSuggestions'
import type { EngineChecked, TypedEngine } from './useEngineCheck'

/** The engine of a new case: taken from a known one by a few letters, or typed; its crank is drawn as it is typed. */
const props = defineProps<{ check: EngineChecked | null }>()
const engine = defineModel<TypedEngine>({ required: true })
const { suggestions, take } = useEngineSuggestions(engine)

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
/** Acts that a maker may forbid, by the ids of the server. */
const FORBIDDEN = {
  unplugs_coil_running: 'Unplugging a coil while it runs',
  unplugs_injector_running: 'Unplugging an injector while it runs',
  needs_idle: 'Leaving it at idle: it holds none without being forced',
  swaps_injector: 'Changing injectors over',
  sparks: 'A spark in free air',
  brake_torque: 'Holding it against the brake',
}
/** Usual firing orders of so many cylinders, but for the one that stands there. */
const orders = computed(() =>
  (props.check?.orders ?? []).filter(
    (order) => order.firing_order.join(' ') !== engine.value.firing_order.trim().replace(/[\s,-]+/g, ' '),
  ),
)
const forbidden = computed({
  get: () => engine.value.prohibited ?? [],
  set: (acts) => (engine.value.prohibited = acts.length ? acts : undefined),
})
function changeFuel() {
  if (engine.value.fuel === 'diesel')
    Object.assign(engine.value, { ignition: 'compression_ignition', injection: 'common_rail' })
}
</script>

<template>
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
    <p v-if="orders.length" class="orders small" data-test="usual-orders">
      Usual
      <button
        v-for="order in orders"
        :key="order.firing_order.join(' ')"
        type="button"
        @click="engine.firing_order = order.firing_order.join(' ')"
      >
        <span class="number">{{ order.firing_order.join(' ') }}</span> {{ order.words }}
      </button>
    </p>
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
          ><el-option v-for="(words, key) in IGNITIONS" :key="key" :value="key" :label="words" /></el-select
      ></el-form-item>
      <el-form-item label="Injection"
        ><el-select v-model="engine.injection" aria-label="Injection"
          ><el-option v-for="(words, key) in INJECTIONS" :key="key" :value="key" :label="words" /></el-select
      ></el-form-item>
    </div>
    <details class="circuit">
      <summary>What may not be done to it</summary>
      <el-checkbox
        :model-value="engine.high_voltage_vehicle === true"
        data-test="high-voltage"
        @update:model-value="engine.high_voltage_vehicle = $event ? true : undefined"
        >Hybrid, or another vehicle with a traction battery</el-checkbox
      >
      <el-checkbox
        v-if="engine.ignition !== 'compression_ignition'"
        :model-value="engine.coil_driver === 'control_unit'"
        data-test="driver-in-unit"
        @update:model-value="engine.coil_driver = $event ? 'control_unit' : undefined"
        >The control unit switches the coils itself, by their current</el-checkbox
      >
      <el-checkbox
        v-if="engine.ignition !== 'compression_ignition'"
        :model-value="engine.coil_driver === 'coil'"
        data-test="driver-in-coil"
        @update:model-value="engine.coil_driver = $event ? 'coil' : undefined"
        >Each coil holds its own driver: its winding is out of a meter's reach</el-checkbox
      >
      <p class="small soft">The maker forbids</p>
      <el-checkbox-group v-model="forbidden" class="forbidden">
        <el-checkbox
          v-for="(words, act) in FORBIDDEN"
          :key="act"
          :value="act"
          :data-test="`forbids-${act}`"
          >{{ words }}</el-checkbox
        >
      </el-checkbox-group>
    </details>
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
</template>

<style scoped>
h2 {
  margin-bottom: 8px;
  padding-bottom: 4px;
  border-bottom: 2px solid var(--ink);
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
  line-height: 44px;
  font-weight: 600;
}
.circuit .el-checkbox {
  min-height: 44px;
  margin-right: 18px;
  white-space: normal;
}
.forbidden {
  display: grid;
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
.orders {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  margin: 0 0 8px;
}
.orders button {
  min-height: 44px;
  padding: 0 12px;
  background: var(--bench);
  border: 1px solid var(--rule);
  border-radius: 3px;
  color: inherit;
  font: inherit;
  cursor: pointer;
}
</style>
