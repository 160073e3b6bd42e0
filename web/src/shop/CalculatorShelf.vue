<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { client, unwrap } from '@/api/client'
import ProblemNote from '@/shared/ProblemNote.vue'
import { useLoaded } from '@/shared/useLoaded'
import CalculatorCard from './CalculatorCard.vue'

/** All calculators on one page; opened from a case they come filled with what it knows. */
const route = useRoute()
const caseId = computed(() => Number(route.query.case) || 0)
const { data, problem, reload } = useLoaded('calculators', caseId, (id, signal) =>
  unwrap(client.GET('/api/calculators/', { params: { query: id ? { case: id } : {} }, signal })),
)
</script>

<template>
  <problem-note :problem="problem" :retry="reload" />
  <p class="soft">
    Each shows its formula and where it comes from. Nothing is kept.
    <template v-if="caseId">Lines marked <em>case</em> come from the case.</template>
  </p>
  <div v-if="data" class="shelf">
    <calculator-card v-for="calculator in data" :key="calculator.id" :calculator="calculator" />
  </div>
</template>

<style scoped>
p {
  margin-bottom: 12px;
}
.shelf {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(330px, 1fr));
  gap: 18px 28px;
}
</style>
