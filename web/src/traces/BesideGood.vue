<script setup lang="ts">
import { client, unwrap } from '@/api/client'
import ProblemNote from '@/shared/ProblemNote.vue'
import { useLoaded } from '@/shared/useLoaded'
import { beyond, reading } from './besideGood'
import type { Capture } from './useTraces'

/** What known good captures of this engine say of this one: a sentence, and behind it figures, sources and warnings. */
const props = defineProps<{ capture: Capture }>()
const { data, problem, reload } = useLoaded(
  'beside',
  () => `${props.capture.id} ${props.capture.known_good}`,
  (_key, signal) =>
    unwrap(
      client.GET('/api/captures/{capture_id}/beside/', {
        params: { path: { capture_id: props.capture.id } },
        signal,
      }),
    ),
  { keep: false },
)
</script>

<template>
  <problem-note :problem="problem" :retry="reload" />
  <details v-if="data" class="beside" data-test="beside-good">
    <summary>{{ data.words }}</summary>
    <ul v-if="data.typical.length">
      <li v-for="words in data.typical" :key="words">Typical: {{ words }}</li>
    </ul>
    <table v-if="data.figures.length">
      <thead>
        <tr class="small soft">
          <th></th>
          <td>Known good</td>
          <td>Here</td>
          <td></td>
        </tr>
      </thead>
      <tbody>
        <tr v-for="figure in data.figures" :key="figure.test + figure.words">
          <th>{{ figure.words }}</th>
          <td class="number">
            {{ reading(figure.usual, figure.usual) }} ± {{ reading(figure.spread, figure.usual) }}
            {{ figure.unit }}
          </td>
          <td class="number">
            {{ reading(figure.low_here, figure.usual) }} to {{ reading(figure.high_here, figure.usual) }}
            {{ figure.unit }}
          </td>
          <td :class="{ alarm: beyond(figure) }">{{ beyond(figure) || 'inside' }}</td>
        </tr>
      </tbody>
    </table>
    <ul>
      <li v-for="good in data.held" :key="good.id">
        <router-link :to="`/cases/${good.case}/traces/${good.id}`">{{ good.words }}</router-link>
        <span class="small">&nbsp;{{ good.why }}. </span>
        <strong v-if="!good.used" class="small">Shown only, not counted. </strong>
        <span v-for="warning in good.warnings" :key="warning" class="small alarm">{{ warning }} </span>
      </li>
    </ul>
  </details>
</template>

<style scoped>
summary {
  min-height: 44px;
  padding: 10px 0;
  cursor: pointer;
  font-weight: 600;
}
table {
  border-collapse: collapse;
}
th,
td {
  text-align: left;
  padding: 4px 24px 4px 0;
  border-bottom: 1px solid var(--rule-soft);
}
th::first-letter {
  text-transform: uppercase;
}
ul {
  margin: 8px 0;
  padding-left: 18px;
}
a {
  color: inherit;
}
</style>
