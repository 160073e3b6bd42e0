<script setup lang="ts">
import { ElInputNumber, ElRadioButton, ElRadioGroup } from 'element-plus'
import { reactive, ref, shallowRef, watch } from 'vue'
import { client, unwrap, type Schemas } from '@/api/client'
import { toProblem, type Problem } from '@/api/problems'

/** What current should flow, or what resistance a current speaks of; copper gains a tenth for every 25 degrees. */
const way = ref<'amps' | 'ohms'>('amps')
const given = reactive<{ ohms?: number; amps?: number; volts?: number; celsius?: number }>({
  volts: 13.8,
  celsius: 20,
})
const found = shallowRef<Schemas['Calculated'] | null>(null)
const problem = shallowRef<Problem | null>(null)
let turn = 0

watch(
  [way, given],
  async () => {
    const known = way.value === 'amps' ? given.ohms : given.amps
    const { volts, celsius } = given
    const mine = ++turn
    found.value = null
    problem.value = null
    if (known == null || volts == null || celsius == null) return
    const query = way.value === 'amps' ? { ohms: known, volts, celsius } : { amps: known, volts, celsius }
    try {
      const answered = await unwrap(client.GET('/api/calculators/injector/', { params: { query } }))
      if (mine === turn) found.value = answered
    } catch (fault) {
      if (mine === turn) problem.value = toProblem(fault)
    }
  },
  { deep: true },
)
const shown = (value: number) => value.toFixed(value < 10 ? 2 : 1)
</script>

<template>
  <div class="calculator" role="group" aria-label="Current and resistance">
    <el-radio-group v-model="way">
      <el-radio-button value="amps">What current should flow?</el-radio-button>
      <el-radio-button value="ohms">What resistance was that?</el-radio-button>
    </el-radio-group>
    <div class="given">
      <label v-if="way === 'amps'"
        ><span class="small">ohm at 20 °C</span
        ><el-input-number
          v-model="given.ohms"
          :controls="false"
          aria-label="ohm at 20 °C"
          data-test="calc-ohms"
      /></label>
      <label v-else
        ><span class="small">ampere seen</span
        ><el-input-number
          v-model="given.amps"
          :controls="false"
          aria-label="ampere seen"
          data-test="calc-amps"
      /></label>
      <label
        ><span class="small">volt of the feed</span
        ><el-input-number v-model="given.volts" :controls="false" aria-label="volt of the feed"
      /></label>
      <label
        ><span class="small">winding, °C</span
        ><el-input-number
          v-model="given.celsius"
          :controls="false"
          aria-label="winding, °C"
          data-test="calc-celsius"
      /></label>
      <p v-if="found" class="told" data-test="calculated">
        <strong>{{ shown(found.value) }} {{ found.unit === 'ohm' ? 'Ω at 20 °C' : 'A' }}</strong>
        <span class="small soft">sound: {{ shown(found.low) }} to {{ shown(found.high) }}</span>
      </p>
      <p v-else-if="problem" class="alarm small">{{ problem.sentence }}</p>
    </div>
  </div>
</template>

<style scoped>
.calculator {
  border-left: 4px solid var(--rule);
  padding: 4px 14px 8px;
  margin-top: 10px;
}
.given {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 16px;
  align-items: flex-end;
  margin-top: 6px;
}
label {
  display: flex;
  flex-direction: column;
  gap: 2px;
}
.el-input-number {
  width: 110px;
}
.told {
  display: flex;
  flex-direction: column;
  margin: 0;
  line-height: 1.25;
}
.told strong {
  font-size: 1.2rem;
}
</style>
