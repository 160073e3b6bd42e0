<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { refDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { client, unwrap } from '@/api/client'
import { useSession } from '@/app/session'
import ProblemNote from '@/shared/ProblemNote.vue'
import { useAttempt } from '@/shared/useAttempt'
import { useLoaded } from '@/shared/useLoaded'
import EngineRecord from './EngineRecord.vue'

/** Engines the shop wrote down: found by a few letters, opened, added, sent and taken in as one file. */
const route = useRoute()
const router = useRouter()
const letters = ref('')
const { data, problem, reload } = useLoaded('engine-records', refDebounced(letters, 150), (typed, signal) =>
  unwrap(client.GET('/api/engine-records/', { params: { query: { letters: typed } }, signal })),
)
const session = useSession()
const may = computed(() => session.state?.role !== 'reader')
const open = computed(() => (typeof route.params.record === 'string' ? Number(route.params.record) : null))
const writing = ref(false)
const { problem: refusal, busy, attempt } = useAttempt()

async function takeIn(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  if (!file) return
  await attempt(async () => {
    const descriptor: unknown = JSON.parse(await file.text())
    await unwrap(
      client.POST('/api/engine-records/package/', {
        body: { descriptor: descriptor as Record<string, unknown> },
      }),
    )
    reload()
  })
  input.value = ''
}
async function written(record: number) {
  writing.value = false
  reload()
  await router.push(`/shop/engines/${record}`)
}
</script>

<template>
  <problem-note :problem="problem ?? refusal" :retry="reload" />
  <engine-record v-if="writing" @kept="written" @leave="writing = false" />
  <engine-record
    v-else-if="open"
    :key="open"
    :record-id="open"
    @kept="reload"
    @leave="router.push('/shop/engines')"
  />
  <template v-else>
    <div class="actions">
      <el-input v-model="letters" class="letters" placeholder="name, code or year" aria-label="Engines" />
      <el-button v-if="may" type="primary" data-test="new-engine" @click="writing = true"
        >Write an engine down</el-button
      >
      <a class="el-button el-button--large" href="/api/engine-records/package/" download>Export all</a>
      <label v-if="may" class="el-button el-button--large" :class="{ 'is-loading': busy }">
        Take in a file
        <input type="file" accept=".json" data-test="engine-package" @change="takeIn" />
      </label>
    </div>
    <ul v-if="data?.length" class="engines" data-test="engines">
      <li v-for="engine in data" :key="engine.id">
        <router-link :to="`/shop/engines/${engine.id}`">
          <strong>{{ engine.label }}</strong>
          <span class="small"
            >{{ engine.years }} {{ engine.code
            }}<template v-if="engine.variant_of">, variant of {{ engine.variant_of }}</template></span
          >
          <span class="small soft">{{ engine.words }}</span>
          <span class="small soft"
            >{{ engine.circuits ? `wiring of ${engine.circuits} circuits` : 'no wiring yet' }},
            {{ engine.cases }} cases</span
          >
        </router-link>
      </li>
    </ul>
    <p v-else-if="data" class="soft">
      No engine is written down<template v-if="letters"> under these letters</template>. Engines of cases are
      found at intake all the same; here they get wiring, variants, what must not be done, and minutes as they
      are.
    </p>
  </template>
</template>

<style scoped>
.actions {
  margin-bottom: 12px;
}
.letters {
  width: 260px;
}
.engines {
  list-style: none;
  margin: 0;
  padding: 0;
}
.engines a {
  display: grid;
  grid-template-columns: 1.2fr 1.4fr 2fr 1.2fr;
  gap: 4px 14px;
  align-items: baseline;
  min-height: 48px;
  padding: 10px 0;
  color: inherit;
  text-decoration: none;
  border-bottom: 1px solid var(--rule-soft);
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
@media (max-width: 899px) {
  .engines a {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
