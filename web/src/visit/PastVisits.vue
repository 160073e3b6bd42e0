<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { dayInWords } from './labour'

/** Earlier visits of the vehicle, one line each: what was found tells, and decides nothing. */
defineProps<{ history: readonly Schemas['PastVisit'][] }>()
</script>

<template>
  <ol class="past" data-test="past-visits">
    <li v-for="(visit, i) in history" :key="i">
      <span class="number small"
        >{{ dayInWords(visit.on)
        }}<template v-if="visit.odometer_km !== null"
          ><br />{{ visit.odometer_km.toLocaleString() }} km</template
        ></span
      >
      <router-link v-if="visit.case" :to="`/cases/${visit.case}`">{{ visit.words }}</router-link>
      <span v-else>{{ visit.words }} <span class="small soft">(from its package)</span></span>
    </li>
  </ol>
</template>

<style scoped>
.past {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 110px 1fr;
  gap: 10px;
  padding: 6px 0;
  border-bottom: 1px solid var(--rule-soft);
}
a {
  color: inherit;
}
</style>
