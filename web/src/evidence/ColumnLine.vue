<script setup lang="ts">
import { ElCheckbox, ElInputNumber, ElOption, ElSelect } from 'element-plus'
import { computed } from 'vue'
import { words } from '@/shared/words'
import type { ColumnUse } from './useTableImport'

/** One column of the file: the whole of it as a picture, and what it is. */
const use = defineModel<ColumnUse>({ required: true })

const UNITS = [
  's',
  'ms',
  'us',
  'V',
  'mV',
  'kV',
  'A',
  'mA',
  'Pa',
  'kPa',
  'bar',
  'psi',
  'rpm',
  'deg',
  '1',
] as const
const path = computed(() => {
  const values = use.value.preview
  const low = Math.min(...values)
  const span = Math.max(...values) - low || 1
  return values
    .map(
      (v, i) =>
        `${i ? 'L' : 'M'}${((100 * i) / Math.max(values.length - 1, 1)).toFixed(1)} ${(30 - (28 * (v - low)) / span).toFixed(1)}`,
    )
    .join('')
})
const ofCylinder = computed(() =>
  [
    'coil_control',
    'coil_current',
    'secondary_voltage',
    'injector_voltage',
    'injector_current',
    'cylinder_pressure',
  ].includes(use.value.role),
)
</script>

<template>
  <li :data-test="`use-${use.column}`">
    <strong>{{ use.column }}</strong>
    <svg
      viewBox="0 0 100 32"
      preserveAspectRatio="none"
      role="img"
      :aria-label="`The whole of ${use.column}`"
    >
      <path :d="path" />
    </svg>
    <el-select v-model="use.role" :aria-label="`What ${use.column} is`">
      <el-option v-for="(word, key) in words.roles" :key="key" :value="key" :label="word" />
    </el-select>
    <el-select
      v-if="use.role !== 'other'"
      v-model="use.unit"
      :aria-label="`Unit of ${use.column}`"
      placeholder="unit"
    >
      <el-option v-for="unit in UNITS" :key="unit" :value="unit" :label="unit" />
    </el-select>
    <span v-else></span>
    <span v-if="ofCylinder" class="sync">
      <label
        >of cylinder
        <el-input-number
          v-model="use.cylinder"
          :min="1"
          :max="16"
          :controls="false"
          :aria-label="`Cylinder of ${use.column}`"
        />
      </label>
      <el-checkbox v-model="use.sync">is the sync</el-checkbox>
    </span>
  </li>
</template>

<style scoped>
li {
  display: grid;
  grid-template-columns: 130px 170px 200px 100px 1fr;
  gap: 14px;
  align-items: center;
  padding: 8px 0;
  border-bottom: 1px solid var(--rule-soft);
}
strong {
  overflow-wrap: anywhere;
}
svg {
  width: 170px;
  height: 42px;
  border: 1px solid var(--rule-soft);
  background: var(--work);
}
path {
  fill: none;
  stroke: var(--trace);
  stroke-width: 1.5;
  vector-effect: non-scaling-stroke;
}
.sync {
  display: flex;
  gap: 14px;
  align-items: center;
}
.sync .el-input-number {
  width: 64px;
}
</style>
