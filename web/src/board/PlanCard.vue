<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import TradeText from '@/shared/TradeText.vue'
import OutcomeList from './OutcomeList.vue'
import type { Tick } from './useImagining'
import type { Board } from './useBoard'

/** The next test: what it takes, why, what each outcome would mean, and when to stop. */
const props = defineProps<{ board: Board; may: boolean; ticked: (test: string, words: string) => boolean }>()
const emit = defineEmits<{ tick: [tick: Tick]; approach: []; happening: [now: boolean] }>()

const at = ref(0)
const offers = computed(() => props.board.next_tests)
const chosen = computed(() => offers.value[Math.min(at.value, offers.value.length - 1)] ?? null)
const others = computed(() =>
  offers.value.map((offer, i) => ({ offer, i })).filter(({ offer }) => offer !== chosen.value),
)
const shown = computed(() => others.value.slice(0, 3))
/** Cautions are spoken in the order of what may kill first; the first ones stand there at once. */
const HEEDED = 2
const heedAll = ref(false)
watch(chosen, () => (heedAll.value = false))
const heeded = computed(() => chosen.value?.cautions.slice(0, heedAll.value ? Infinity : HEEDED) ?? [])
const unheard = computed(() => (chosen.value?.cautions.length ?? 0) - heeded.value.length)
const bench = computed(() => ({
  path: '/bench',
  query: {
    case: props.board.case.id,
    test: chosen.value?.test,
    suspects: props.board.verdict.cylinders.join(',') || undefined,
  },
}))
/** Tests by hand open their form, with the item chosen. */
const form = computed(() => {
  const asked = chosen.value
  if (!asked?.has_form) return null
  return {
    path: `/cases/${props.board.case.id}/evidence`,
    query: { form: asked.test, item: asked.id.split(':')[1] || undefined },
  }
})
</script>

<template>
  <section id="next-test" class="next" tabindex="-1" data-test="next-test">
    <header>
      <h3 class="soft">{{ board.plan.done ? 'Enough is known' : 'Ask next' }}</h3>
      <span class="ways">
        <button
          v-if="may && (board.case.happening || !board.plan.done)"
          type="button"
          class="now"
          :aria-pressed="board.case.happening"
          data-test="happening"
          @click="emit('happening', !board.case.happening)"
        >
          It does it now
        </button>
        <button v-if="may" type="button" class="quiet" data-test="approach" @click="emit('approach')">
          Tools and order
        </button>
      </span>
    </header>
    <p v-if="board.plan.leave_alone.length" class="alarm" data-test="hands-off">
      {{
        board.case.happening
          ? 'It does it now: unplug nothing, switch nothing off.'
          : 'Not caught yet: unplug nothing.'
      }}
    </p>
    <p v-if="board.plan.done" class="stop" data-test="stop"><trade-text :text="board.plan.stop" /></p>
    <template v-if="chosen">
      <h4><trade-text :text="chosen.title" /></h4>
      <p><trade-text :text="chosen.reason" /></p>
      <p v-if="chosen.probe" data-test="probe">
        <strong><trade-text :text="chosen.probe" /></strong>
      </p>
      <p v-if="chosen.proves.length" class="small">
        <strong>It would meet a condition that is still missing.</strong>
      </p>
      <p v-for="caution in heeded" :key="caution" class="alarm small"><trade-text :text="caution" /></p>
      <button
        v-if="unheard > 0"
        type="button"
        class="quiet heed"
        data-test="heed-all"
        @click="heedAll = true"
      >
        {{ unheard }} more to heed
      </button>
      <router-link v-if="chosen.at_bench && may" class="to-bench" :to="bench" data-test="at-bench"
        >Set it up at the bench</router-link
      >
      <router-link v-else-if="form && may" class="to-bench" :to="form" data-test="write-down"
        >Write it down</router-link
      >
      <template v-if="chosen.meanings.length">
        <p class="small soft what">What if it comes out</p>
        <outcome-list :offer="chosen" :ticked="ticked" @tick="(tick: Tick) => emit('tick', tick)" />
      </template>
    </template>
    <div v-if="shown.length" class="then">
      <p class="small soft">Or, in this order</p>
      <button v-for="{ offer, i } in shown" :key="offer.id" type="button" @click="at = i">
        <span>{{ offer.title }}</span><span class="number">{{ offer.minutes }} min</span>
      </button>
    </div>
    <details v-if="board.plan.leave_alone.length" class="alone" data-test="leave-alone">
      <summary>Leave alone until it was caught</summary>
      <p v-for="text in board.plan.leave_alone" :key="text" class="small">{{ text }}</p>
    </details>
    <p v-if="!board.plan.done" class="small soft" data-test="stop"><trade-text :text="board.plan.stop" /></p>
    <p v-for="text in board.plan.held_back" :key="text" class="small alarm"><trade-text :text="text" /></p>
    <p class="small soft">Follow the maker's procedure and the workshop's rules.</p>
  </section>
</template>

<style scoped>
.next {
  background: var(--work);
  border: 2px solid var(--ink);
  border-radius: 3px;
  padding: 8px 14px 10px;
  margin-bottom: 12px;
}
header {
  display: flex;
  justify-content: space-between;
  align-items: center;
  margin-bottom: 4px;
}
.ways {
  display: flex;
  align-items: center;
  gap: 12px;
}
.now {
  font: inherit;
  font-size: 14.5px;
  color: inherit;
  min-height: 44px;
  padding: 2px 12px;
  background: none;
  border: 2px solid var(--rule);
  border-radius: 3px;
  cursor: pointer;
}
.now[aria-pressed='true'] {
  border-color: var(--alarm);
  color: var(--alarm-ink);
  font-weight: 600;
}
.alone {
  border-left: 5px solid var(--alarm);
  padding-left: 10px;
  margin: 4px 0 8px;
}
.alone summary {
  cursor: pointer;
  min-height: 32px;
  font-weight: 600;
}
h3 {
  font-size: 14px;
}
h4 {
  margin: 0 0 2px;
  font-size: 1.1rem;
  line-height: 1.2;
}
.stop {
  font-weight: 600;
  margin-bottom: 6px;
}
.what {
  margin-top: 4px;
}
.heed {
  display: block;
}
.to-bench {
  display: flex;
  align-items: center;
  justify-content: center;
  min-height: 48px;
  margin: 6px 0;
  background: var(--ink);
  color: var(--work);
  border-radius: 3px;
  font-weight: 600;
  text-decoration: none;
}
.then {
  border-top: 1px solid var(--rule);
  padding-top: 6px;
  margin: 4px 0 6px;
}
.then .number {
  white-space: nowrap;
}
.then button {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  align-items: center;
  width: 100%;
  min-height: 44px;
  padding: 0;
  background: none;
  border: 0;
  color: inherit;
  font: inherit;
  font-size: 14.5px;
  line-height: 1.2;
  text-align: left;
  cursor: pointer;
  text-decoration: underline;
  text-underline-offset: 3px;
}
</style>
