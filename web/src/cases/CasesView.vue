<script setup lang="ts">
import { ElButton, ElInput, ElOption, ElPagination, ElProgress, ElSelect } from 'element-plus'
import { computed, onScopeDispose, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { refDebounced } from '@vueuse/core'
import { client, unwrap, upload } from '@/api/client'
import { toProblem, type Problem } from '@/api/problems'
import ProblemNote from '@/shared/ProblemNote.vue'
import { words } from '@/shared/words'
import { useLoaded } from '@/shared/useLoaded'
import { useKeys } from '@/app/keys'
import { useSession } from '@/app/session'
import CaseLine from './CaseLine.vue'
import FirstSteps from './FirstSteps.vue'
import DueList from './DueList.vue'

const router = useRouter()
const route = useRoute()
const session = useSession()
const search = ref(String(route.query.search ?? ''))
type Standing = 'open' | 'closed' | 'due' | 'all'
const status = ref<Standing>((route.query.status as Standing) || 'all')
const verdict = ref(String(route.query.verdict || 'any'))
const cause = ref(String(route.query.cause || 'any'))
const waits = ref(String(route.query.waits || 'any'))
const narrowed = computed(
  () => search.value || status.value !== 'all' || [verdict, cause, waits].some((f) => f.value !== 'any'),
)
function showAll() {
  search.value = ''
  status.value = 'all'
  for (const filter of [verdict, cause, waits]) filter.value = 'any'
}
const page = ref(Number(route.query.page ?? 1))
const searched = refDebounced(search, 250)
const query = computed(() => ({
  search: searched.value,
  status: status.value,
  verdict: verdict.value === 'any' ? '' : verdict.value,
  cause: cause.value === 'any' ? '' : cause.value,
  waits: waits.value === 'any' ? '' : waits.value,
  page: page.value,
}))
watch([searched, status, verdict, cause, waits], () => (page.value = 1))
watch(query, (wanted) => router.replace({ query: { ...wanted, page: String(wanted.page) } }))

const { data, problem, busy, reload } = useLoaded('cases', query, (wanted, signal) =>
  unwrap(client.GET('/api/cases/', { params: { query: wanted }, signal })),
)
const mayOpen = computed(() => session.state?.role !== 'reader')
const field = ref<InstanceType<typeof ElInput> | null>(null)
useKeys({ '/': () => field.value?.focus() })

const chooser = ref<HTMLInputElement | null>(null)
const sent = ref<number | null>(null)
const refusal = ref<Problem | null>(null)
const over = ref(false)

let left = false
onScopeDispose(() => (left = true))

async function importPackage(file: File | undefined) {
  if (!file) return
  refusal.value = null
  sent.value = 0
  try {
    const kept = await upload<{ id: number }>('/api/cases/import/', file, {}, (share) => (sent.value = share))
    if (!left) await router.push(`/cases/${kept.id}`)
  } catch (fault) {
    refusal.value = toProblem(fault)
  } finally {
    sent.value = null
    if (chooser.value) chooser.value.value = ''
  }
}
function dropped(event: DragEvent) {
  over.value = false
  if (mayOpen.value) void importPackage(event.dataTransfer?.files[0])
}
</script>

<template>
  <div
    class="page"
    :class="{ over }"
    @dragover.prevent="over = true"
    @dragleave="over = false"
    @drop.prevent="dropped"
  >
    <header class="page-head">
      <div>
        <h1>In the yard</h1>
        <p class="soft">
          {{ data ? `${data.count} ${data.count === 1 ? 'case' : 'cases'}` : 'Loading' }}, latest touched
          first
        </p>
      </div>
      <div v-if="mayOpen" class="actions">
        <input
          ref="chooser"
          class="visually-hidden"
          type="file"
          accept=".zip"
          aria-label="Case package to import"
          data-test="package-file"
          @change="importPackage((($event.target as HTMLInputElement).files ?? [])[0])"
        />
        <el-button @click="chooser?.click()">Import case package</el-button>
        <el-button type="primary" data-test="new-case" @click="router.push('/cases/new')"
          >Start case</el-button
        >
      </div>
    </header>
    <el-progress v-if="sent !== null" :percentage="Math.round(100 * sent)" :stroke-width="14" />
    <problem-note :problem="refusal" />
    <due-list :may="mayOpen" />
    <div v-if="!data || data.count || narrowed" class="filters">
      <el-input
        ref="field"
        v-model="search"
        placeholder="Search vehicle, complaint, finding"
        aria-label="Search cases"
        clearable
      />
      <el-select v-model="status" aria-label="Open or closed">
        <el-option value="all" label="Open and closed" />
        <el-option value="open" label="Open" />
        <el-option value="closed" label="Closed" />
        <el-option value="due" label="Due by today" />
      </el-select>
      <el-select v-model="verdict" aria-label="How far it is">
        <el-option value="any" label="However far" />
        <el-option v-for="(word, key) in words.statuses" :key="key" :value="key" :label="word" />
      </el-select>
      <el-select v-model="cause" aria-label="Cause so far">
        <el-option value="any" label="Any cause" />
        <el-option v-for="(word, key) in words.causes" :key="key" :value="key" :label="word" />
      </el-select>
      <el-select v-model="waits" aria-label="Asked next" data-test="filter-waits">
        <el-option value="any" label="Whatever is next" />
        <el-option
          v-for="row in data?.waiting ?? []"
          :key="row.test"
          :value="row.test"
          :label="`${row.words} (${row.cases})`"
        />
      </el-select>
    </div>
    <problem-note :problem="problem" :retry="reload" />
    <div v-if="data && data.cases.length" class="head" aria-hidden="true">
      <span>Vehicle</span><span>Cylinder</span><span>So far</span><span>Ask next</span><span>Clock</span>
    </div>
    <ul class="lines" :aria-busy="busy">
      <case-line v-for="line in data?.cases ?? []" :key="line.id" :line="line" />
      <template v-if="!data && busy">
        <li v-for="i in 8" :key="i" class="placeholder" aria-hidden="true"></li>
      </template>
    </ul>
    <div v-if="data && !data.cases.length" class="empty">
      <template v-if="narrowed"
        ><h2>No case matches</h2>
        <p><el-button data-test="show-all" @click="showAll">Show all cases</el-button></p></template
      >
      <template v-else><first-steps :may="mayOpen" /></template>
    </div>
    <el-pagination
      v-if="data && data.pages > 1"
      v-model:current-page="page"
      layout="prev, pager, next"
      :page-count="data.pages"
    />
  </div>
</template>

<style scoped>
.over {
  outline: 3px dashed var(--trace);
  outline-offset: -8px;
}
.filters {
  display: grid;
  grid-template-columns: 1.6fr repeat(4, 1fr);
  gap: 10px;
  margin: 6px 0 14px;
}
.head {
  display: grid;
  grid-template-columns: 2.1fr 92px 2.6fr 2fr 76px;
  gap: 14px;
  padding: 0 12px 6px;
  font-size: 14px;
  color: var(--ink-soft);
}
.lines {
  list-style: none;
  margin: 0;
  padding: 0;
  border-top: 1px solid var(--rule);
}
.placeholder {
  height: 68px;
  border-bottom: 1px solid var(--rule-soft);
  background: var(--bench);
}
.empty {
  padding: 40px 12px;
}
@media (max-width: 899px) {
  .head {
    display: none;
  }
  .filters {
    grid-template-columns: 1fr 1fr;
  }
  .filters > :first-child {
    grid-column: 1 / -1;
  }
}
</style>
