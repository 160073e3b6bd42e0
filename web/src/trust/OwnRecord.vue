<script setup lang="ts">
import { client, unwrap, type Schemas } from '@/api/client'
import ProblemNote from '@/shared/ProblemNote.vue'
import { useLoaded } from '@/shared/useLoaded'
import { chanceInWords } from '@/shared/words'
import OwnFigures from './OwnFigures.vue'

/** What was really found in this shop beside what was said: each that was not as stated, with what misled. */
defineProps<{ study: Schemas['Figures'] }>()
const { data, problem, reload } = useLoaded('record', 'own', (_key, signal) =>
  unwrap(client.GET('/api/outcomes/', { signal })),
)
</script>

<template>
  <section data-test="own-record">
    <h2>In this shop</h2>
    <problem-note :problem="problem" :retry="reload" />
    <template v-if="data">
      <p v-if="!data.count" class="soft">Nothing that was really found was written down yet.</p>
      <own-figures v-else :study="study" />
      <table v-if="data.wrong.length">
        <thead>
          <tr class="small soft">
            <th>Case</th>
            <th>Said</th>
            <th>Found</th>
            <th>What misled</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="wrong in data.wrong" :key="wrong.case + wrong.at">
            <td>
              <router-link :to="`/cases/${wrong.case}`">{{ wrong.title }}</router-link>
            </td>
            <td>
              {{ wrong.said }}
              <span class="small soft">{{ chanceInWords(Math.round(100 * wrong.probability)) }}</span>
            </td>
            <td>{{ wrong.found }} ({{ wrong.seen_by }})</td>
            <td>{{ wrong.lesson || 'not written down' }}</td>
          </tr>
        </tbody>
      </table>
    </template>
  </section>
</template>

<style scoped>
table {
  width: 100%;
  border-collapse: collapse;
}
th,
td {
  text-align: left;
  vertical-align: top;
  padding: 6px 14px 6px 0;
  border-bottom: 1px solid var(--rule-soft);
}
a {
  color: inherit;
}
</style>
