<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus'
import { computed } from 'vue'
import { FORMS } from '@/evidence/forms'
import { CAUSE_WORDS, SCHOOL_WORDS, STATUS_WORDS } from '@/shared/words'
import type { Board } from './useBoard'

/** Which cylinder, which cause, how sure, why, what was not seen, what to ask next. */
const props = defineProps<{ board: Board }>()
const emit = defineEmits<{ evidence: [findings: readonly string[]]; school: [school: string] }>()

const verdict = computed(() => props.board.verdict)
const causes = computed(() =>
  Object.entries(props.board.causes).map(([key, value]) => ({
    key,
    words: CAUSE_WORDS[key],
    value: Math.round(100 * value),
  })),
)
const next = computed(() => props.board.next_tests[0] ?? null)
const later = computed(() => props.board.next_tests.slice(1, 4))
const bench = computed(() => ({
  path: '/bench',
  query: {
    case: props.board.case.id,
    test: next.value?.test,
    suspects: verdict.value.cylinders.join(',') || undefined,
  },
}))
/** Tests by hand open their form, with the item chosen. */
const form = computed(() => {
  const asked = next.value
  if (!asked || !FORMS.some((f) => f.test === asked.test)) return null
  return {
    path: `/cases/${props.board.case.id}/evidence`,
    query: { form: asked.test, item: asked.kind.split(':')[1] || undefined },
  }
})
const mayRank = computed(() => props.board.case.may.includes('add_evidence'))
</script>

<template>
  <aside class="statement" aria-label="Statement">
    <p class="small soft">
      Statement, <strong data-test="status">{{ STATUS_WORDS[verdict.status] ?? verdict.status }}</strong>
    </p>
    <h2 class="headline" data-test="headline">{{ verdict.headline }}</h2>
    <section class="seen">
      <h3>Seen</h3>
      <p v-if="!verdict.seen.length" class="soft">Nothing yet. Add a cranking capture.</p>
      <p v-for="sentence in verdict.seen" :key="sentence.text">
        <button v-if="sentence.findings.length" type="button" @click="emit('evidence', sentence.findings)">
          {{ sentence.text }}
        </button>
        <template v-else>{{ sentence.text }}</template>
      </p>
    </section>
    <section class="follows">
      <h3>Follows</h3>
      <p v-for="sentence in verdict.follows" :key="sentence.text">
        <button v-if="sentence.findings.length" type="button" @click="emit('evidence', sentence.findings)">
          {{ sentence.text }}
        </button>
        <template v-else>{{ sentence.text }}</template>
      </p>
    </section>
    <section class="unseen">
      <h3>Not seen</h3>
      <p v-for="text in verdict.not_seen" :key="text">{{ text }}</p>
    </section>
    <section v-if="next" id="next-test" class="next" tabindex="-1" data-test="next-test">
      <h3 class="soft">Ask next</h3>
      <h4>{{ next.title }}</h4>
      <p>{{ next.reason }}</p>
      <p v-for="caution in next.cautions" :key="caution" class="alarm small">{{ caution }}</p>
      <router-link v-if="next.at_bench && mayRank" class="to-bench" :to="bench" data-test="at-bench"
        >Set it up at the bench</router-link
      >
      <router-link v-else-if="form && mayRank" class="to-bench" :to="form" data-test="write-down"
        >Write it down</router-link
      >
      <p v-if="later.length" class="small soft">
        Then:
        {{
          later
            .map((t) => `${t.title.charAt(0).toLowerCase()}${t.title.slice(1)}, ${t.minutes} min`)
            .join('; ')
        }}.
      </p>
      <p class="small soft">Follow the maker's procedure and the workshop's rules.</p>
    </section>
    <section class="causes">
      <h3>Cause, in per cent</h3>
      <div v-for="cause in causes" :key="cause.key" class="cause">
        <span>{{ cause.words }}</span>
        <span class="track"><span :style="{ width: `${cause.value}%` }"></span></span>
        <span class="number" :data-test="`cause-${cause.key}`">{{ cause.value }}</span>
      </div>
    </section>
    <el-select
      v-if="mayRank"
      :model-value="board.case.school"
      aria-label="Which tests come first"
      @change="(school: string) => emit('school', school)"
    >
      <el-option v-for="(words, key) in SCHOOL_WORDS" :key="key" :value="key" :label="words" />
    </el-select>
  </aside>
</template>

<style scoped>
.statement {
  background: var(--bench);
  border-left: 1px solid var(--rule);
  padding: 14px 18px 30px;
  overflow-y: auto;
}
.headline {
  font-size: 1.35rem;
  line-height: 1.2;
  margin: 2px 0 12px;
}
h3 {
  font-size: 14px;
  color: var(--ink-soft);
}
section {
  margin-bottom: 12px;
}
.seen,
.follows,
.unseen {
  padding-left: 14px;
  font-size: 14.5px;
}
.seen {
  border-left: 4px solid var(--ink);
}
.follows {
  border-left: 5px double var(--ink);
}
.unseen {
  border-left: 4px dotted var(--ink);
}
section p button {
  all: unset;
  cursor: pointer;
}
section p button:hover {
  text-decoration: underline;
}
section p button:focus-visible {
  outline: 3px solid var(--alarm);
}
.next {
  background: var(--work);
  border: 2px solid var(--ink);
  border-radius: 3px;
  padding: 10px 14px;
}
.next h4 {
  margin: 0 0 2px;
  font-size: 1.1rem;
}
.to-bench {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
  font-weight: 600;
}
.next .el-select {
  margin: 8px 0 4px;
}
.cause {
  display: grid;
  grid-template-columns: 92px 1fr 36px;
  gap: 8px;
  align-items: center;
  font-size: 14.5px;
}
.cause .number {
  text-align: right;
}
.track {
  height: 12px;
  background: var(--rule-soft);
  display: block;
}
.track span {
  display: block;
  height: 100%;
  background: var(--trace);
}
</style>
