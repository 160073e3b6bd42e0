<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'

/** Vehicles of each kind, and how many were not told right. */
const props = defineProps<{ groups: readonly Schemas['Group'][]; name: string; onlyMissed?: boolean }>()

const missed = (g: Schemas['Group']) => g.vehicles - Math.min(g.cylinder, g.cause, g.fault)
const shown = computed(() =>
  props.onlyMissed
    ? props.groups.filter((g) => missed(g) > 0).sort((a, b) => missed(b) - missed(a))
    : props.groups,
)
</script>

<template>
  <table class="figures">
    <thead>
      <tr>
        <th>{{ name }}</th>
        <th class="number">Not right</th>
        <th class="number">of</th>
        <th class="number">min</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="group in shown" :key="group.name">
        <td>{{ group.words }}</td>
        <td class="number">{{ missed(group) }}</td>
        <td class="number">{{ group.vehicles }}</td>
        <td class="number">{{ group.minutes.toFixed(0) }}</td>
      </tr>
    </tbody>
  </table>
  <p v-if="!shown.length" class="soft">None.</p>
</template>

<style scoped>
th {
  color: var(--ink-soft);
}
th.number,
td.number {
  text-align: right;
  width: 84px;
}
td {
  padding: 4px 0;
}
td:first-child::first-letter {
  text-transform: uppercase;
}
</style>
