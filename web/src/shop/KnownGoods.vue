<script setup lang="ts">
import { ElButton, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, reactive, ref } from 'vue'
import { client, unwrap, upload } from '@/api/client'
import { useSession } from '@/app/session'
import ProblemNote from '@/shared/ProblemNote.vue'
import { useAttempt } from '@/shared/useAttempt'
import { useLoaded } from '@/shared/useLoaded'
import { words } from '@/shared/words'

/** Captures held as known good: from own cases, a colleague's package without a case, or simulated for practice. */
const wanted = ref('')
const { data, problem, reload } = useLoaded('known-goods', 'all', (_key, signal) =>
  unwrap(client.GET('/api/known-goods/', { signal })),
)
const { data: engines } = useLoaded('engine-records', '', (letters, signal) =>
  unwrap(client.GET('/api/engine-records/', { params: { query: { letters } }, signal })),
)
const session = useSession()
const may = computed(() => session.state?.role !== 'reader')
const { problem: refusal, busy, attempt } = useAttempt()
const CAME_FROM = { own: 'own case', colleague: 'from a colleague', practice: 'simulated' }
const shown = computed(() =>
  (data.value ?? []).filter((row) =>
    `${row.engine} ${row.test} ${row.words}`.toLowerCase().includes(wanted.value.trim().toLowerCase()),
  ),
)
const tests = computed(() => Object.entries(words.tests))
const practice = reactive({ engine: '', tests: [] as string[] })
async function take(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  if (!file) return
  await attempt(async () => {
    await upload('/api/known-goods/package/', file, {}, () => undefined)
    reload()
  })
  input.value = ''
}
const practise = () =>
  attempt(async () => {
    await unwrap(
      client.POST('/api/known-goods/practice/', { body: { ...practice, tests: [...practice.tests] } }),
    )
    practice.tests = []
    reload()
  })
</script>

<template>
  <problem-note :problem="problem" :retry="reload" />
  <problem-note :problem="refusal" />
  <div class="actions">
    <el-input v-model="wanted" placeholder="engine, test or vehicle" aria-label="Search" class="search" />
    <label v-if="may" class="el-button el-button--large el-button--primary" :class="{ 'is-loading': busy }">
      Take a colleague’s package
      <input type="file" accept=".zip" data-test="known-good-package" @change="take" />
    </label>
  </div>
  <table v-if="shown.length" data-test="shelf">
    <thead>
      <tr class="small soft">
        <th>Engine</th>
        <td>Test</td>
        <td>Taken</td>
        <td>Why it is good</td>
        <td>From</td>
      </tr>
    </thead>
    <tbody>
      <tr v-for="row in shown" :key="row.id">
        <th>{{ row.engine || 'engine without a name' }}</th>
        <td>
          <router-link :to="`/cases/${row.case}/traces/${row.id}`">{{ row.test || row.words }}</router-link>
        </td>
        <td class="small">{{ [row.condition, row.lead].filter(Boolean).join(', ') || 'not noted' }}</td>
        <td class="small">{{ row.why }}</td>
        <td class="small" :class="{ practice: row.came_from === 'practice' }">
          {{ CAME_FROM[row.came_from] }}
        </td>
      </tr>
    </tbody>
  </table>
  <p v-else-if="data" class="soft">
    Nothing is held<template v-if="wanted"> under these letters</template>. Open a trace of a proven repair
    and choose “Hold as known good”, or take a colleague’s package.
  </p>
  <details v-if="may">
    <summary>Simulate a sound engine, for practice</summary>
    <p class="small soft">It is marked as simulated wherever it is shown. It is no engine of yours.</p>
    <form class="practice-form" @submit.prevent="practise">
      <el-select v-model="practice.engine" placeholder="engine" aria-label="Engine">
        <el-option v-for="e in engines ?? []" :key="e.id" :value="e.label" :label="e.label" />
      </el-select>
      <el-select v-model="practice.tests" multiple placeholder="tests" aria-label="Tests">
        <el-option v-for="[key, said] in tests" :key="key" :value="key" :label="said" />
      </el-select>
      <el-button native-type="submit" :loading="busy" :disabled="!practice.engine || !practice.tests.length"
        >Simulate and hold</el-button
      >
    </form>
  </details>
</template>

<style scoped>
.actions {
  margin-bottom: 12px;
}
.search {
  width: 280px;
}
input[type='file'] {
  position: absolute;
  opacity: 0;
  inset: 0;
  cursor: pointer;
}
label.el-button {
  position: relative;
}
table {
  width: 100%;
  border-collapse: collapse;
}
th,
td {
  text-align: left;
  vertical-align: top;
  padding: 8px 14px 8px 0;
  border-bottom: 1px solid var(--rule-soft);
}
td.practice {
  font-style: italic;
}
a {
  color: inherit;
}
summary {
  min-height: 44px;
  padding: 12px 0;
  cursor: pointer;
}
.practice-form {
  display: grid;
  grid-template-columns: 260px 1fr auto;
  gap: 10px;
}
</style>
