<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { useKeys } from '@/app/keys'
import { client, unwrap } from '@/api/client'
import ProblemNote from '@/shared/ProblemNote.vue'
import { useLoaded } from '@/shared/useLoaded'
import { chanceInWords, minutesInWords, whenInWords, wordFor } from '@/shared/words'

/** A case as a film: what was kept, and what follows from all that was there by then. */
const route = useRoute()
const id = computed(() => Number(route.params.id))
const { data, problem, reload } = useLoaded('replay', id, (case_id, signal) =>
  unwrap(client.GET('/api/cases/{case_id}/replay/', { params: { path: { case_id } }, signal })),
)
const at = ref(0)
const step = computed(() => (data.value ? { case: id.value, step: at.value } : null))
const picture = useLoaded('replay-step', step, (wanted, signal) =>
  unwrap(
    client.GET('/api/cases/{case_id}/replay/{step}/', {
      params: { path: { case_id: wanted.case, step: wanted.step } },
      signal,
    }),
  ),
)
const said = computed(() => picture.data.value)
const causes = computed(() =>
  Object.entries(said.value?.causes ?? {}).map(([key, chance]) => ({
    key,
    words: wordFor('causes', key),
    percent: Math.round(100 * chance),
  })),
)
const asked = computed(() => said.value?.next_tests[0])
const proofs = computed(() => [...(said.value?.changed_over ?? []), ...(said.value?.repairs ?? [])].slice(-1))

function go(to: number) {
  at.value = Math.max(0, Math.min(to, (data.value?.steps.length ?? 1) - 1))
}
watch(at, () =>
  nextTick(() => document.querySelector('[aria-current="step"]')?.scrollIntoView({ block: 'nearest' })),
)
useKeys({
  ArrowRight: () => go(at.value + 1),
  ArrowLeft: () => go(at.value - 1),
  Home: () => go(0),
  End: () => go(Number.MAX_SAFE_INTEGER),
})
</script>

<template>
  <div class="page">
    <problem-note :problem="problem" :retry="reload" />
    <template v-if="data">
      <h1>{{ data.title }}, step by step</h1>
      <p class="small soft">
        What this version says of all that was there by each step. <span class="keycap">←</span>
        <span class="keycap">→</span> go back and forth.
      </p>
      <div class="film">
        <ol class="steps" aria-label="Steps">
          <li v-for="(one, i) in data.steps" :key="i">
            <button
              type="button"
              :aria-current="i === at ? 'step' : undefined"
              :data-test="`step-${i}`"
              @click="go(i)"
            >
              <strong>{{ one.words }}</strong>
              <span class="small soft">{{ whenInWords(one.at) }}, {{ one.by }}</span>
            </button>
          </li>
        </ol>
        <section v-if="said" class="picture" aria-live="polite" data-test="picture" :data-step="at">
          <p class="small soft">Statement, {{ wordFor('statuses', said.verdict.status) }}</p>
          <h2 data-test="replayed">{{ said.verdict.headline }}</h2>
          <p v-for="proof in proofs" :key="proof.phase" class="proof">{{ proof.words }}</p>
          <dl>
            <template v-for="cause in causes" :key="cause.key">
              <dt>{{ cause.words }}</dt>
              <dd>
                <span class="bar" :style="{ width: `${0.8 * cause.percent}%` }"></span>
                <span class="number">{{ chanceInWords(cause.percent) }}</span>
              </dd>
            </template>
          </dl>
          <p v-if="asked" data-test="asked">
            <strong>Asked next:</strong> {{ asked.title }}, {{ minutesInWords(asked.minutes) }}.
            {{ asked.reason }}
          </p>
          <p v-else class="soft">Nothing more is asked for.</p>
        </section>
      </div>
    </template>
  </div>
</template>

<style scoped>
.film {
  display: grid;
  grid-template-columns: minmax(260px, 340px) 1fr;
  gap: 28px;
  margin-top: 12px;
}
.steps {
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: calc(100vh - 150px);
  overflow-y: auto;
}
.steps button {
  display: grid;
  width: 100%;
  min-height: 48px;
  padding: 6px 10px;
  border: 0;
  border-left: 4px solid var(--rule);
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  cursor: pointer;
}
.steps button[aria-current] {
  border-left-color: var(--alarm);
  background: var(--rule-soft);
}
.picture h2 {
  font-size: 1.7rem;
  line-height: 1.2;
  max-width: 36ch;
}
.proof {
  font-weight: 600;
  max-width: 70ch;
}
dl {
  display: grid;
  grid-template-columns: 110px 340px;
  gap: 8px 12px;
  align-items: center;
  margin: 18px 0;
}
dd {
  margin: 0;
  display: flex;
  align-items: center;
  gap: 8px;
}
dd .number {
  white-space: nowrap;
}
.bar {
  flex: none;
  height: 16px;
  min-width: 2px;
  background: var(--trace);
  transition: width 0.2s;
}
</style>
