<script setup lang="ts">
import { computed, ref } from 'vue'
import ProblemNote from '@/shared/ProblemNote.vue'
import TradeText from '@/shared/TradeText.vue'
import { wordFor } from '@/shared/words'
import PlanCard from './PlanCard.vue'
import SentenceList from './SentenceList.vue'
import { useImagining, type Tick } from './useImagining'
import type { Board } from './useBoard'

/** Which cylinder, which cause, how sure, why, what was not seen, what to ask next. */
const props = defineProps<{ board: Board }>()
const emit = defineEmits<{
  evidence: [findings: readonly string[]]
  approach: []
  happening: [now: boolean]
}>()

const SEEN_SHOWN = 5
const DECIDING = 3
const imagining = useImagining(() => props.board.case.id)
const verdict = computed(() => imagining.told.value?.verdict ?? props.board.verdict)
const plain = ref(false)
const causes = computed(() =>
  Object.entries(imagining.told.value?.causes ?? props.board.causes).map(([key, value]) => ({
    key,
    words: wordFor('causes', key),
    value: Math.round(100 * value),
    before: Math.round(100 * props.board.causes[key as keyof Board['causes']]),
  })),
)
/** Findings that speak against whom the statement names. */
const against = computed(
  () =>
    new Set(
      props.board.findings
        .filter((f) => f.state !== 'normal' && verdict.value.cylinders.includes(f.cylinder ?? 0))
        .map((f) => f.id),
    ),
)
/** What the call hangs on, in three lines: what was seen of the accused, and what follows. The whole of it comes below. */
const deciding = computed(() => {
  const { seen, follows } = verdict.value
  const shown = seen.find((sentence) => sentence.findings.some((id) => against.value.has(id))) ?? seen[0]
  return [...(shown ? [shown] : []), ...follows.slice(0, DECIDING - 1)]
})
const unmet = computed(() => verdict.value.conditions.filter((c) => !c.met).map((c) => c.words))
const met = computed(() => verdict.value.conditions.filter((c) => c.met))
const missing = computed(() => [
  ...unmet.value,
  ...verdict.value.not_seen.filter((text) => !unmet.value.includes(text)),
])
const may = computed(() => props.board.case.may.includes('add_evidence'))
const open = (ids: readonly string[]) => emit('evidence', ids)
</script>

<template>
  <aside class="statement" :class="{ imagined: imagining.told.value }" aria-label="Statement">
    <div v-if="imagining.ticks.value.length" class="banner" role="status" data-test="imagined">
      <p>
        <strong>Imagined, not evidence.</strong>{{ ' ' }}
        <template v-for="tick in imagining.ticks.value" :key="tick.test">
          {{ tick.title }}: {{ tick.words }}.
        </template>
      </p>
      <button type="button" data-test="back-to-seen" @click="imagining.clear()">Back to what was seen</button>
      <problem-note :problem="imagining.problem.value" />
    </div>
    <p class="small soft head">
      <span
        >Statement, <strong data-test="status">{{ wordFor('statuses', verdict.status) }}</strong></span
      >
      <button type="button" class="quiet" :aria-pressed="plain" data-test="plain" @click="plain = !plain">
        {{ plain ? 'In trade words' : 'For the owner' }}
      </button>
    </p>
    <h2 class="headline" data-test="headline">{{ verdict.headline }}</h2>
    <section v-if="!plain && deciding.length" class="deciding" data-test="deciding">
      <sentence-list :sentences="deciding" @evidence="open" />
    </section>
    <section v-if="verdict.repair.length && board.plan.done" class="repair" data-test="repair">
      <h3>{{ verdict.status === 'established' ? 'Repair, both ways' : 'Repair, once it is proven' }}</h3>
      <p v-for="offer in verdict.repair" :key="offer.words">
        <strong>{{ offer.words }}.</strong> {{ offer.why }}.
      </p>
    </section>
    <plan-card
      v-if="board.next_tests.length || board.plan.stop"
      :board="board"
      :may="may"
      :ticked="imagining.ticked"
      @tick="(tick: Tick) => imagining.tick(tick)"
      @approach="emit('approach')"
      @happening="(now: boolean) => emit('happening', now)"
    />
    <section v-if="plain" class="owner" data-test="owner">
      <p v-for="text in verdict.owner" :key="text">{{ text }}</p>
    </section>
    <template v-else>
      <section class="seen">
        <h3>Seen</h3>
        <sentence-list
          :sentences="verdict.seen"
          :shown="SEEN_SHOWN"
          empty="Nothing yet. Add a cranking capture."
          @evidence="open"
        />
      </section>
      <section class="follows">
        <h3>Follows</h3>
        <sentence-list :sentences="verdict.follows" @evidence="open" />
        <div v-if="verdict.rival.length" class="rival" data-test="rival">
          <sentence-list :sentences="verdict.rival" @evidence="open" />
        </div>
      </section>
      <section class="unseen" data-test="not-seen">
        <h3>Not seen</h3>
        <p v-for="text in missing" :key="text"><trade-text :text="text" /></p>
        <p v-if="!missing.length" class="soft">Nothing that the call hangs on.</p>
        <details v-if="met.length">
          <summary>{{ met.length === 1 ? 'One condition met' : `${met.length} conditions met` }}</summary>
          <p v-for="condition in met" :key="condition.words" class="small soft">{{ condition.words }}</p>
        </details>
      </section>
    </template>
    <section v-if="verdict.repair.length && !board.plan.done" class="repair" data-test="repair">
      <h3>{{ verdict.status === 'established' ? 'Repair, both ways' : 'Repair, once it is proven' }}</h3>
      <p v-for="offer in verdict.repair" :key="offer.words">
        <strong>{{ offer.words }}.</strong> {{ offer.why }}.
      </p>
    </section>
    <section class="causes">
      <h3>Cause, in per cent</h3>
      <div v-for="cause in causes" :key="cause.key" class="cause">
        <span>{{ cause.words }}</span>
        <span class="track"
          ><span :style="{ width: `${cause.value}%` }"></span
          ><i v-if="imagining.told.value" :style="{ left: `${cause.before}%` }"></i
        ></span>
        <span class="number" :data-test="`cause-${cause.key}`">{{ cause.value }}</span>
      </div>
      <p v-if="imagining.told.value" class="small soft">
        The mark shows where each stands without imagining.
      </p>
      <p v-if="board.learned_from" class="small soft" data-test="learned-from">
        {{ board.learned_from }} outcomes of <router-link to="/shop/learned">this shop</router-link> count in
        it.
      </p>
    </section>
  </aside>
</template>

<style scoped src="./statement.css"></style>
