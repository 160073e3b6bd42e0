<script setup lang="ts">
import { ElInputNumber, ElRadioButton, ElRadioGroup } from 'element-plus'
import { reactive, ref, shallowRef, watch } from 'vue'
import { client, unwrap } from '@/api/client'
import { toProblem, type Problem } from '@/api/problems'

/** What current should flow, or what resistance a current speaks of; copper gains a tenth for every 25 degrees. */
const way = ref<'amps' | 'ohms'>('amps')
const given = reactive<{ ohms?: number; amps?: number; volts?: number; celsius?: number }>({
  volts: 13.8,
  celsius: 20,
})
const found = shallowRef<{ value: number; low: number; high: number; unit: string } | null>(null)
/** The shelf's calculators for either way, by what goes in and what comes out. */
const SUMS = {
  amps: { calculator: 'expected_current', takes: 'ohms', unit: 'A' },
  ohms: { calculator: 'ohms_from_amps', takes: 'amps', unit: 'Ω at 20 °C' },
} as const
const problem = shallowRef<Problem | null>(null)
let turn = 0

watch(
  [way, given],
  async () => {
    const sum = SUMS[way.value]
    const known = given[sum.takes]
    const { volts, celsius } = given
    const mine = ++turn
    found.value = null
    problem.value = null
    if (known == null || volts == null || celsius == null) return
    const body = {
      given: Object.entries({ [sum.takes]: known, volts, celsius }).map(([key, value]) => ({ key, value })),
    }
    try {
      const { found: told } = await unwrap(
        client.POST('/api/calculators/{calculator}/', {
          params: { path: { calculator: sum.calculator } },
          body,
        }),
      )
      const of = Object.fromEntries(told.map((row) => [row.key, row.value]))
      const [value, low, high] = [of[way.value]!, of[`low_${way.value}`]!, of[`high_${way.value}`]!]
      if (mine === turn) found.value = { value, low, high, unit: sum.unit }
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
        <strong>{{ shown(found.value) }} {{ found.unit }}</strong>
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
