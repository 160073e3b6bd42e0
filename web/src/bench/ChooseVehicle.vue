<script setup lang="ts">
import { ElButton, ElInputNumber, ElOption, ElRadioButton, ElRadioGroup, ElSelect } from 'element-plus'
import { StorageSerializers, useStorage } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'

/** What is put in the bay: the vehicle of a case or one of the garage, with a hidden or a chosen fault. */
const props = defineProps<{
  choices: Schemas['Choices']
  caseId: number | null
  caseTitle: string
  busy: boolean
}>()
const emit = defineEmits<{
  choose: [what: { case: number | null; vehicle: string; fault: string; hot: boolean }]
}>()

const HIDDEN = [
  { fault: 'hidden', words: 'Hidden: anything' },
  { fault: 'hidden_dead_hole', words: 'Hidden: one dead hole' },
  { fault: 'hidden_mechanical', words: 'Hidden: mechanical' },
  { fault: 'hidden_ignition', words: 'Hidden: ignition' },
  { fault: 'hidden_fuel', words: 'Hidden: fuel' },
]
const vehicle = ref(props.choices.vehicles[2]?.name ?? '')
const fault = ref('hidden')
const cylinder = ref(1)
const hot = ref(true)
const LAST = 'fair-witness-last-vehicle'
const last = useStorage<{ vehicle: string; words: string } | null>(LAST, null, undefined, {
  serializer: StorageSerializers.object,
})
function again() {
  vehicle.value = last.value?.vehicle ?? vehicle.value
  choose()
}
const chosen = computed(() => props.choices.faults.find((f) => f.fault === fault.value))

function choose() {
  const known = props.choices.vehicles.find((v) => v.name === vehicle.value)
  if (known && !props.caseId) last.value = { vehicle: known.name, words: known.model }
  const where = chosen.value?.per_cylinder ? `@${cylinder.value}` : ''
  emit('choose', {
    case: props.caseId,
    vehicle: vehicle.value,
    fault: chosen.value ? `${fault.value}${where}` : fault.value,
    hot: hot.value,
  })
}
</script>

<template>
  <section class="choose" aria-labelledby="choose-vehicle">
    <h2 id="choose-vehicle">Put a vehicle in the bay</h2>
    <p>
      Here a scope and a scan link are clipped on, the engine is cranked or run, the traces are watched as
      they come, and what was taken is kept in the case. The vehicle is simulated, and so are its instruments:
      stand-ins to learn and to try a test on. A recording of your own scope is brought in under Add evidence.
    </p>
    <p v-if="last && !caseId" class="last">
      <span class="soft">Last in the bay:</span> <strong>{{ last.words }}</strong>
      <el-button data-test="last-again" @click="again">The same again</el-button>
    </p>
    <div class="asks">
      <p v-if="caseId" class="ask">
        <span>Vehicle of the case</span><strong>{{ caseTitle }}</strong>
      </p>
      <label v-else class="ask">
        <span>Vehicle</span>
        <el-select v-model="vehicle" aria-label="Vehicle" data-test="vehicle">
          <el-option v-for="v in choices.vehicles" :key="v.name" :value="v.name" :label="v.model" />
        </el-select>
      </label>
      <label class="ask">
        <span>What is wrong with it</span>
        <el-select v-model="fault" filterable aria-label="Fault" data-test="fault">
          <el-option v-for="h in HIDDEN" :key="h.fault" :value="h.fault" :label="h.words" />
          <el-option value="" label="Nothing" />
          <el-option v-for="f in choices.faults" :key="f.fault" :value="f.fault" :label="f.words" />
        </el-select>
      </label>
      <label v-if="chosen?.per_cylinder" class="ask">
        <span>On cylinder</span>
        <el-input-number v-model="cylinder" :min="1" :max="16" aria-label="Cylinder with the fault" />
      </label>
      <div class="ask">
        <span>Engine</span>
        <el-radio-group v-model="hot" aria-label="Engine temperature">
          <el-radio-button :value="true">Warm</el-radio-button>
          <el-radio-button :value="false">Cold</el-radio-button>
        </el-radio-group>
      </div>
    </div>
    <el-button type="primary" :loading="busy" data-test="choose" @click="choose">Put it in the bay</el-button>
  </section>
</template>

<style scoped>
.choose {
  max-width: 760px;
  display: grid;
  gap: 14px;
  justify-items: start;
}
.last {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
  align-items: center;
}
.asks {
  display: flex;
  flex-wrap: wrap;
  gap: 16px;
  width: 100%;
}
.ask {
  display: grid;
  gap: 4px;
  min-width: 210px;
}
.ask > span {
  font-weight: 600;
}
</style>
