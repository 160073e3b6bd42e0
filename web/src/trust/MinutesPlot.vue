<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'

/** One bar a policy, with the interval of its mean. */
const props = defineProps<{ policies: readonly Schemas['Policy'][] }>()

const told = computed(() => props.policies.filter((p) => p.minutes !== null && p.vehicles > 0))
const most = computed(() => Math.max(...told.value.map((p) => p.interval[1] ?? p.minutes ?? 0), 1))
const at = (minutes: number | null | undefined) => `${(100 * (minutes ?? 0)) / most.value}%`
const NAMES: Record<string, string> = { plan: 'The plan' }
</script>

<template>
  <div class="bars" data-test="minutes">
    <div v-for="policy in told" :key="policy.policy" class="bar" :class="{ plan: policy.policy === 'plan' }">
      <span class="who">{{ NAMES[policy.policy] ?? policy.policy }}</span>
      <span class="track">
        <span class="fill" :style="{ width: at(policy.minutes) }"></span>
        <span
          class="spread"
          :style="{
            left: at(policy.interval[0]),
            width: `calc(${at(policy.interval[1])} - ${at(policy.interval[0])})`,
          }"
        ></span>
      </span>
      <span class="number">{{ policy.minutes?.toFixed(0) }} min</span>
      <span class="small soft"
        >{{ policy.right.hits }} of {{ policy.vehicles }} right, {{ policy.tests }} tests each,
        {{ policy.per_right }} min a right answer</span
      >
    </div>
  </div>
</template>

<style scoped>
.bar {
  display: grid;
  grid-template-columns: 150px 1fr 76px 380px;
  gap: 12px;
  align-items: center;
  min-height: 36px;
}
.who::first-letter {
  text-transform: uppercase;
}
.plan .who,
.plan .number {
  font-weight: 700;
}
.track {
  position: relative;
  height: 16px;
  background: var(--rule-soft);
}
.fill {
  position: absolute;
  inset: 0 auto 0 0;
  background: var(--rule);
  border-right: 2px solid var(--ink);
}
.plan .fill {
  background: var(--trace);
}
.spread {
  position: absolute;
  top: 7px;
  border-top: 2px solid var(--ink);
}
.number {
  text-align: right;
}
@media (max-width: 899px) {
  .bar {
    grid-template-columns: minmax(0, 1fr) 76px;
  }
}
</style>
