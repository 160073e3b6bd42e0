<script setup lang="ts">
import { ElSwitch } from 'element-plus'
import { computed } from 'vue'
import { client, unwrap, type Schemas } from '@/api/client'
import ProblemNote from '@/shared/ProblemNote.vue'
import { useAttempt } from '@/shared/useAttempt'
import { useLoaded } from '@/shared/useLoaded'
import { between, leadReads, percent, percentOf } from './shares'

/** How often the answers were right here, beside the study: in all, by test, by engine, by person only if wanted. */
defineProps<{ study: Schemas['Figures'] }>()
const { data, problem, reload } = useLoaded('own-figures', 'all', (_key, signal) =>
  unwrap(client.GET('/api/own-figures/', { signal })),
)
const { problem: refusal, attempt } = useAttempt()
const groups = computed(() =>
  data.value
    ? [
        { words: 'Test', said: 'Spoke for what was found', lines: data.value.tests },
        { words: 'Engine', said: 'As stated', lines: data.value.engines },
        ...(data.value.people ? [{ words: 'Person', said: 'As stated', lines: data.value.people }] : []),
      ].filter((group) => group.lines.length)
    : [],
)
const byPerson = (on: boolean) =>
  attempt(async () => {
    await unwrap(client.POST('/api/learned/switch/', { body: { key: 'people', on } }))
    reload()
  })
</script>

<template>
  <problem-note :problem="problem ?? refusal" :retry="reload" />
  <template v-if="data">
    <table class="own" data-test="own-figures">
      <thead>
        <tr class="small soft">
          <th></th>
          <td>In this shop</td>
          <td>In the study</td>
        </tr>
      </thead>
      <tbody>
        <tr>
          <th>As stated, of all that was found</th>
          <td class="number">
            <strong>{{ percent(data.overall) }}</strong>&nbsp;
            <span class="small soft">{{ between(data.overall) }}</span>
          </td>
          <td class="number soft">{{ percentOf(study.cause.share) }}</td>
        </tr>
        <tr v-if="data.established.count">
          <th>As stated, where it was called established</th>
          <td class="number">
            <strong>{{ percent(data.established) }}</strong>&nbsp;
            <span class="small soft">{{ between(data.established) }}</span>
          </td>
          <td class="number soft">
            {{ percentOf(study.wrong_established.share === null ? null : 1 - study.wrong_established.share) }}
          </td>
        </tr>
      </tbody>
    </table>
    <div class="groups">
      <table v-for="group in groups" :key="group.words">
        <thead>
          <tr class="small soft">
            <th>{{ group.words }}</th>
            <td>{{ group.said }}</td>
          </tr>
        </thead>
        <tbody>
          <tr v-for="line in group.lines" :key="line.words">
            <th>{{ line.words }}</th>
            <td class="number">
              {{ percent(line) }} <span class="small soft">{{ between(line) }}</span>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <ul v-if="data.leads.length" data-test="leads">
      <li v-for="lead in data.leads" :key="lead.words" :class="{ alarm: lead.is_off }">
        {{ leadReads(lead) }}
      </li>
    </ul>
    <p class="small">
      <router-link to="/shop/learned">What these outcomes taught, line by line</router-link>
      <el-switch
        :model-value="data.people !== null"
        active-text="By person too"
        aria-label="By person too"
        data-test="by-person"
        @update:model-value="byPerson($event as boolean)"
      />
    </p>
  </template>
</template>

<style scoped>
table {
  border-collapse: collapse;
  width: 100%;
}
.groups {
  display: grid;
  /* Side by side where there is room for both. */
  grid-template-columns: repeat(auto-fit, minmax(min(440px, 100%), 1fr));
  gap: 10px 44px;
  margin: 12px 0;
  align-items: start;
}
th,
td {
  text-align: left;
  padding: 5px 14px 5px 0;
  border-bottom: 1px solid var(--rule-soft);
}
td.number {
  white-space: nowrap;
}
p {
  display: flex;
  align-items: center;
  gap: 24px;
}
a {
  color: inherit;
}
@media (max-width: 899px) {
  td.number {
    white-space: normal;
  }
  td .small {
    display: block;
  }
}
</style>
