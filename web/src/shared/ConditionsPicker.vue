<script setup lang="ts">
import { ElInputNumber, ElOption, ElSelect } from 'element-plus'
import { LOADS, TEMPERATURES, said, toggled, type Conditions } from './conditions'

/** Cold or hot, wet, after standing, load, minutes: of a complaint, or of what was read. */
const props = defineProps<{
  label: string
  asksHappened?: boolean
  /** Conditions that are asked elsewhere already, by their keys. */
  asked?: readonly string[]
}>()
const asks = (key: string) => !props.asked?.includes(key)
const conditions = defineModel<Conditions>({ required: true })
const toggle = <K extends keyof Conditions>(key: K, value: Conditions[K]) => {
  conditions.value = toggled(conditions.value, key, value)
}
const set = <K extends keyof Conditions>(key: K, value: Conditions[K] | null | '') => {
  conditions.value = said({ ...conditions.value, [key]: value === '' ? undefined : value })
}
</script>

<template>
  <div class="conditions" role="group" :aria-label="label">
    <button
      v-for="t in asks('temperature') ? TEMPERATURES : []"
      :key="t.value"
      type="button"
      :aria-pressed="conditions.temperature === t.value"
      :data-test="`when-${t.value}`"
      @click="toggle('temperature', t.value)"
    >
      {{ t.words }}
    </button>
    <button
      type="button"
      :aria-pressed="conditions.wet === true"
      data-test="when-wet"
      @click="toggle('wet', true)"
    >
      Wet
    </button>
    <button
      type="button"
      :aria-pressed="conditions.after_standing === true"
      data-test="when-after-standing"
      @click="toggle('after_standing', true)"
    >
      After standing
    </button>
    <el-select
      v-if="asks('load')"
      :model-value="conditions.load"
      clearable
      placeholder="Any load"
      aria-label="Load"
      data-test="when-load"
      @update:model-value="set('load', $event)"
    >
      <el-option v-for="l in LOADS" :key="l.value" :value="l.value" :label="l.words" />
    </el-select>
    <label class="minutes"
      ><el-input-number
        :model-value="conditions.minutes_running ?? null"
        :controls="false"
        :min="0"
        :max="1440"
        aria-label="Minutes after the start"
        data-test="when-minutes"
        @update:model-value="set('minutes_running', $event ?? null)"
      /><span class="small">min after the start</span></label
    >
    <span v-if="asksHappened" class="happened" role="group" aria-label="Was the complaint there meanwhile">
      <span class="small">The complaint was</span>
      <button
        type="button"
        :aria-pressed="conditions.happened === true"
        data-test="happened"
        @click="toggle('happened', true)"
      >
        There
      </button>
      <button
        type="button"
        :aria-pressed="conditions.happened === false"
        data-test="happened-not"
        @click="toggle('happened', false)"
      >
        Not there
      </button>
    </span>
  </div>
</template>

<style scoped>
.conditions,
.happened,
.minutes {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}
.conditions .el-select {
  width: 165px;
}
.minutes .el-input-number {
  width: 68px;
}
button {
  font: inherit;
  color: inherit;
  min-height: 44px;
  padding: 2px 14px;
  background: var(--work);
  border: 2px solid var(--rule);
  border-radius: 3px;
  cursor: pointer;
}
button[aria-pressed='true'] {
  border-color: var(--ink);
  font-weight: 600;
}
</style>
