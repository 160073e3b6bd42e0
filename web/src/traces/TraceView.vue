<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useWindowSize } from '@vueuse/core'
import { client, unwrap } from '@/api/client'
import { useKeys } from '@/app/keys'
import { useSession } from '@/app/session'
import ProblemNote from '@/shared/ProblemNote.vue'
import { useLoaded } from '@/shared/useLoaded'
import { whenInWords, wordFor } from '@/shared/words'
import ChannelStrip from './ChannelStrip.vue'
import CursorPanel from './CursorPanel.vue'
import CycleViews from './CycleViews.vue'
import HandOut from './HandOut.vue'
import KeepFigure from './KeepFigure.vue'
import BesideGood from './BesideGood.vue'
import KnownGood from './KnownGood.vue'
import { areFirings, beginsWith, eventsOf } from './cylinderEvents'
import { providePicture } from './picture'
import StripBar from './StripBar.vue'
import StretchWords from './StretchWords.vue'
import { useDrawing } from './useDrawing'
import { useFolds } from './useFolds'
import { useStretch } from './useStretch'
import { useTraces, type Capture } from './useTraces'

const USUAL_SAMPLES = 4_000_000
/** About one column a pixel of a bench screen. */
const COLUMNS = 1200
const LOOKS = [
  { look: 'strip', words: 'Whole strip' },
  { look: 'overlay', words: 'Overlay' },
  { look: 'rows', words: 'By cylinder' },
  { look: 'cycle', words: 'One cycle' },
  { look: 'average', words: 'Averaged' },
  { look: 'beside', words: 'Side by side' },
] as const
const route = useRoute()
const router = useRouter()
const session = useSession()
const captureId = computed(() => Number(route.params.capture))
const {
  data: capture,
  problem,
  reload,
} = useLoaded('capture', captureId, (capture_id, signal) =>
  unwrap(client.GET('/api/captures/{capture_id}/', { params: { path: { capture_id } }, signal })),
)
const panels = providePicture()
const look = computed(() => LOOKS.find((l) => l.look === route.query.look)?.look ?? 'strip')
const { stretch, cycle, cycles, show, step, closer, move, all } = useStretch(capture)
const view = { stretch }
const { corner, flipped, zeros, flip, zeroAt, done, of } = useDrawing(() => capture.value)
const { traces, problem: sampleProblem } = useTraces(capture, stretch, COLUMNS, corner, of)
const at = ref<number | null>(null)
const cursorA = ref<number | null>(null)
const cursorB = ref<number | null>(null)
/** Cycles are looked for at once in a capture of usual length, in a long one when somebody asks for degrees. */
const { cycles: found } = useFolds(
  () =>
    (capture.value?.samples ?? Infinity) <= USUAL_SAMPLES || cursorA.value !== null || cursorB.value !== null
      ? capture.value
      : null,
  '',
)
/** Of the whole capture: what lies within the stretch is for each plot to find, many times a second. */
const events = computed(() => eventsOf(found.value))
const fires = computed(() => areFirings(found.value, capture.value?.channels ?? []))
const begins = computed(() => beginsWith(events.value, capture.value?.cycle_starts_s ?? []))
function cursors() {
  const { from, to } = stretch.value
  cursorA.value = from + (to - from) / 3
  cursorB.value = from + (2 * (to - from)) / 3
}
useKeys({
  ']': () => look.value === 'strip' && step(1),
  '[': () => look.value === 'strip' && step(-1),
  a: () => (cursorA.value = at.value ?? stretch.value.from),
  b: () => (cursorB.value = at.value ?? stretch.value.to),
  '+': () => closer(0.5),
  '-': () => closer(2),
  ArrowLeft: () => move(-0.5),
  ArrowRight: () => move(0.5),
  Escape: all,
})
/** What it was taken for; its own name where nobody said. */
function testOf(of: Capture): string {
  const { test } = of.set_up as { test?: string }
  return test ? wordFor('tests', test) : of.name
}
const { height: innerHeight } = useWindowSize()
/** All channels fit a bench screen beside what stands above and below them. */
const [AROUND, HEADING, LOWEST] = [250, 40, 84]
const heights = computed(() => {
  const reading = cursorA.value !== null || cursorB.value !== null ? 0.72 : 1
  const count = capture.value?.channels.length || 1
  const room = (innerHeight.value - AROUND) / count - HEADING
  return Math.round(reading * Math.min(420, Math.max(LOWEST, room)))
})
</script>

<template>
  <div class="traces">
    <problem-note :problem="problem ?? sampleProblem" :retry="reload" />
    <template v-if="capture">
      <header class="page-head">
        <div>
          <h1>
            {{ testOf(capture) }}
            <span v-if="capture.withdrawn" class="alarm">withdrawn: {{ capture.withdrawn_reason }}</span>
          </h1>
          <p class="small soft">
            {{ capture.case_title }}, “{{ capture.name }}”. Kept by {{ capture.kept_by }},
            {{ whenInWords(capture.kept_at) }}. {{ capture.samples.toLocaleString('en') }} samples at
            {{ Math.round(capture.rate_hz).toLocaleString('en') }} per second.
          </p>
        </div>
        <div class="beside-title">
          <known-good :capture="capture" @changed="reload" />
          <router-link :to="`/shop/sums?case=${capture.case}`">Calculators</router-link>
          <router-link :to="`/cases/${capture.case}`">Back to the board</router-link>
        </div>
      </header>
      <beside-good :capture="capture" />
      <nav class="segments ways" aria-label="Ways to look">
        <button
          v-for="l in LOOKS"
          :key="l.look"
          type="button"
          :class="{ on: look === l.look }"
          :aria-pressed="look === l.look"
          :data-test="`look-${l.look}`"
          @click="router.replace({ query: { ...route.query, look: l.look } })"
        >
          {{ l.words }}
        </button>
        <stretch-words
          v-if="look === 'strip'"
          class="at"
          :view="view"
          :cycle="cycle"
          :cycles="cycles.length"
        />
        <hand-out class="out" :capture="capture" :look="look" :view="view" :panels="panels" />
      </nav>
      <cycle-views v-if="look !== 'strip'" :capture="capture" :look="look" />
      <strip-bar
        v-if="look === 'strip'"
        v-model:corner="corner"
        :cycles="cycles.length > 0"
        @all="all"
        @cursors="cursors"
        @step="step"
        @closer="closer"
      >
        <keep-figure
          v-if="session.state?.role !== 'reader' && !capture.withdrawn"
          :capture="capture"
          :view="view"
          :cursors="[cursorA, cursorB]"
        />
      </strip-bar>
      <channel-strip
        v-for="(channel, i) in look === 'strip' ? capture.channels : []"
        :key="channel.position"
        :channel="channel"
        :drawn="traces[i]"
        :view="view"
        :marks="capture.cycle_starts_s ?? []"
        :events="events"
        :fires="fires"
        :cursors="[cursorA, cursorB]"
        :done="done(channel.position, channel.unit)"
        :over="flipped.includes(channel.position)"
        :zeroed="zeros[channel.position] !== undefined"
        :height="heights"
        :at="at"
        @flip="flip(channel.position)"
        @zero="zeroAt(channel.position, cursorA ?? stretch.from)"
        @zoom="show"
        @hover="(s) => (at = s)"
      />
      <cursor-panel
        v-if="look === 'strip' && (cursorA !== null || cursorB !== null)"
        v-model:a="cursorA"
        v-model:b="cursorB"
        :capture="capture"
        :cycles="found"
        :may-pin="session.state?.role !== 'reader'"
      />
      <p v-if="look === 'strip'" class="small soft">
        Dashed lines: where each cycle used begins<template v-if="begins"
          >, at the event of cylinder {{ begins }}; numbers: where each cylinder’s event is</template
        ><template v-if="fires">; strokes are those of the cylinder the lead is on</template>. Drag over a
        stretch to look closer; wheel or two fingers zoom, shift and wheel, one finger or the arrows move.
      </p>
      <ul v-if="capture.reasons.length" class="small">
        <li v-for="reason in capture.reasons" :key="reason">{{ reason }}</li>
      </ul>
    </template>
  </div>
</template>

<style scoped>
.traces {
  padding: 14px clamp(10px, 2vw, 22px) 30px;
}
.ways {
  margin-bottom: 12px;
  max-width: 100%;
  flex-wrap: wrap;
  row-gap: 6px;
}
.ways .at {
  align-self: center;
  padding-left: 14px;
}
.ways .out {
  margin-left: auto;
}
.beside-title a {
  white-space: nowrap;
}
.beside-title {
  display: flex;
  align-items: center;
  gap: 18px;
}
@media (max-width: 899px) {
  .beside-title {
    flex-wrap: wrap;
  }
  /* In a hand the trace comes first: what is done to it lies in rows to be pushed aside, not in a stack. */
  .ways {
    flex-wrap: nowrap;
    overflow-x: auto;
  }
  .ways > * {
    flex: none;
  }
}
</style>
