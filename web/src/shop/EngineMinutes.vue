<script setup lang="ts">
import { ElInputNumber } from 'element-plus'
import type { Schemas } from '@/api/client'
import ProblemNote from '@/shared/ProblemNote.vue'
import { useAttempt } from '@/shared/useAttempt'

/** Minutes of each test as they really are on this engine; what is left empty is as usual. */
const props = defineProps<{
  lines: readonly Schemas['AccessLine'][]
  may: boolean
  set: (test: string, minutes: number | null) => Promise<unknown>
}>()
const { problem, attempt } = useAttempt()
const change = (test: string, minutes: number | null | undefined) =>
  attempt(async () => void (await props.set(test, minutes ?? null)))
</script>

<template>
  <details>
    <summary>Minutes per test as they really are here</summary>
    <problem-note :problem="problem" />
    <label v-for="line in lines" :key="line.test">
      <span>{{ line.title }}</span>
      <span class="soft number">usually {{ line.usual }}</span>
      <el-input-number
        :model-value="line.minutes"
        :min="1"
        :max="600"
        :controls="false"
        :disabled="!may"
        :value-on-clear="null"
        :aria-label="`Minutes of ${line.title}`"
        @change="change(line.test, $event)"
      />
    </label>
  </details>
</template>

<style scoped>
summary {
  min-height: 44px;
  padding: 12px 0;
  cursor: pointer;
}
label {
  display: grid;
  grid-template-columns: 1fr 120px 110px;
  gap: 12px;
  align-items: center;
  min-height: 48px;
  border-bottom: 1px solid var(--rule-soft);
}
.el-input-number {
  width: 110px;
}
</style>
