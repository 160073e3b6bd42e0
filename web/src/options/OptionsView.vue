<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { client, unwrap } from '@/api/client'
import { useSession } from '@/app/session'
import ProblemNote from '@/shared/ProblemNote.vue'
import { useLoaded } from '@/shared/useLoaded'
import { chanceInWords, minutesInWords } from '@/shared/words'
import { moneyInWords } from './money'

/** The ways to go on with a case, each with what it costs, what it cures and what it costs to be wrong. */
const route = useRoute()
const session = useSession()
const money = (sum: number | null) => moneyInWords(sum, session.state?.currency)
const caseId = computed(() => Number(route.params.id))
const { data, problem, reload } = useLoaded('options', caseId, (case_id, signal) =>
  unwrap(client.GET('/api/cases/{case_id}/options/', { params: { path: { case_id } }, signal })),
)
const unpriced = computed(() => [...new Set(data.value?.flatMap((option) => option.unpriced))])
</script>

<template>
  <div class="page">
    <problem-note :problem="problem" :retry="reload" />
    <template v-if="data">
      <header class="page-head">
        <div>
          <h1>Ways to go on</h1>
          <p class="soft">
            Chances are those of the statement. Being wrong costs, on average, the chance that it does not
            cure times its price.
          </p>
        </div>
        <div class="actions">
          <router-link class="el-button el-button--large" to="/prices">Price list</router-link>
          <router-link class="el-button el-button--large" :to="`/cases/${caseId}/sheet`"
            >Owner's sheet</router-link
          >
        </div>
      </header>
      <p v-if="!data.length" class="soft" data-test="no-options">
        No fault is supported yet.
        <router-link :to="`/cases/${caseId}`">The next test comes first.</router-link>
      </p>
      <table v-else data-test="options">
        <thead>
          <tr class="small soft">
            <th>What is done</th>
            <th>What may follow</th>
            <th class="number">Labour</th>
            <th class="number">Price</th>
            <th class="number">Cures it</th>
            <th class="number">Being wrong</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="option in data" :key="option.kind" :data-test="`option-${option.kind}`">
            <th>
              {{ option.words }}
              <strong v-if="option.opens_engine" class="alarm small block">Only with the owner's yes</strong>
            </th>
            <td>
              {{ option.risk }}
              <template v-if="option.saves !== null">
                <strong v-if="option.saves > 0">It saves {{ money(option.saves) }} on average.</strong>
                <template v-else>It does not pay for its time.</template>
              </template>
            </td>
            <td class="number">{{ option.minutes ? minutesInWords(Math.round(option.minutes)) : '' }}</td>
            <td class="number">
              <strong>{{ money(option.price) }}</strong>
            </td>
            <td class="number">
              {{ option.cures ? chanceInWords(Math.round(100 * option.cures)) : '' }}
            </td>
            <td class="number">{{ option.wrong === null ? '' : money(option.wrong) }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="unpriced.length" class="soft" data-test="unpriced">
        Not priced yet: {{ unpriced.join(', ') }}.
      </p>
      <p class="small soft">Follow the maker's procedure and the workshop's rules.</p>
    </template>
  </div>
</template>

<style scoped>
table {
  width: 100%;
  border-collapse: collapse;
  margin: 12px 0;
}
th,
td {
  text-align: left;
  vertical-align: top;
  padding: 10px 16px 10px 0;
  border-bottom: 1px solid var(--rule-soft);
}
tbody th {
  width: 34%;
}
tbody th::first-letter,
td:nth-child(2)::first-letter {
  text-transform: uppercase;
}
td.number {
  white-space: nowrap;
}
thead th {
  border-bottom: 2px solid var(--ink);
}
.block {
  display: block;
}
</style>
