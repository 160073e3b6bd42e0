<script setup lang="ts">
import {
  ElButton,
  ElDropdown,
  ElDropdownItem,
  ElDropdownMenu,
  ElMessage,
  ElOption,
  ElSelect,
} from 'element-plus'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { answer, client } from '@/api/client'
import { useKeys } from '@/app/keys'
import { useSession } from '@/app/session'
import ProblemNote from '@/shared/ProblemNote.vue'
import { useLoaded } from '@/shared/useLoaded'
import { whenInWords, wordFor } from '@/shared/words'
import CursorPanel from './CursorPanel.vue'
import CycleLooks from './CycleLooks.vue'
import KnownGood from './KnownGood.vue'
import { asPng, asSvg, handOver, providePicture } from './picture'
import StretchWords from './StretchWords.vue'
import TracePlot from './TracePlot.vue'
import { useFolds } from './useFolds'
import { useTraces } from './useTraces'

/** About one column a pixel of a bench screen. */
const COLUMNS = 1200
/** Samples across the screen at the closest look. */
const CLOSEST = 8
const route = useRoute()
const router = useRouter()
const captureId = computed(() => Number(route.params.capture))
const {
  data: capture,
  problem,
  reload,
} = useLoaded('capture', captureId, (capture_id, signal) =>
  answer(client.GET('/api/captures/{capture_id}/', { params: { path: { capture_id } }, signal })),
)
const whole = computed(() => {
  const from = capture.value?.start_s ?? 0
  return { from, to: from + (capture.value?.duration_s ?? 1) }
})
const stretch = ref({ from: 0, to: 1 })
const view = { stretch }
/** Another capture is shown whole; the same one, loaded again, keeps the stretch somebody looks at. */
watch(
  () => capture.value?.id,
  () => (stretch.value = { ...whole.value }),
  { immediate: true },
)
const LOOKS = [
  { look: 'strip', words: 'Whole strip' },
  { look: 'overlay', words: 'Overlay' },
  { look: 'rows', words: 'By cylinder' },
  { look: 'cycle', words: 'One cycle' },
  { look: 'average', words: 'Averaged' },
  { look: 'beside', words: 'Side by side' },
] as const
const EXPORTS = [
  { kind: 'csv', words: 'CSV' },
  { kind: 'mdf', words: 'ASAM MDF 4' },
  { kind: 'matlab', words: 'MATLAB' },
  { kind: 'parquet', words: 'Parquet' },
]
const PICTURES = [
  { kind: 'png', words: 'Picture (PNG)' },
  { kind: 'svg', words: 'Picture (SVG)' },
]
const panels = providePicture()
async function picture(kind: string) {
  const held = capture.value!
  const about = `${held.case_title}. Kept by ${held.kept_by}, ${whenInWords(held.kept_at)}.`
  const svg = asSvg(panels(), held.name, about)
  const name = `capture-${held.id}-${look.value}`
  try {
    if (kind === 'svg') handOver(new Blob([svg], { type: 'image/svg+xml' }), `${name}.svg`)
    else handOver(await asPng(svg), `${name}.png`)
  } catch (fault) {
    ElMessage({ message: String(fault), type: 'error' })
  }
}
function exportAs(kind: string) {
  if (PICTURES.some((p) => p.kind === kind)) return void picture(kind)
  const { from, to } = stretch.value
  location.assign(`/api/captures/${captureId.value}/export/?kind=${kind}&from_s=${from}&to_s=${to + 1e-9}`)
}
const corner = ref(0)
const CORNERS = [0, 20, 100, 500, 2000, 10000]
const flipped = ref<number[]>([])
function flip(position: number) {
  flipped.value = flipped.value.includes(position)
    ? flipped.value.filter((p) => p !== position)
    : [...flipped.value, position]
}
/** What is shown as zero, by channel. */
const zeros = ref<Record<number, number>>({})
async function zeroHere(position: number) {
  if (zeros.value[position] !== undefined) {
    zeros.value = Object.fromEntries(Object.entries(zeros.value).filter(([p]) => Number(p) !== position))
    return
  }
  const moment = cursorA.value ?? stretch.value.from
  const query = { from_s: moment, to_s: moment + 1.5 / capture.value!.rate_hz }
  const path = { capture_id: captureId.value, position }
  const read = await answer(
    client.GET('/api/captures/{capture_id}/reading/{position}/', { params: { path, query } }),
  ).catch(() => null)
  if (read) zeros.value = { ...zeros.value, [position]: read.first }
}
const done = (position: number, unit: string) =>
  [
    flipped.value.includes(position) ? 'shown upside down' : '',
    zeros.value[position] === undefined
      ? ''
      : `zero drawn at ${zeros.value[position].toPrecision(4)} ${unit}`,
    corner.value ? `shown below ${corner.value.toLocaleString('en')} Hz only` : '',
  ]
    .filter(Boolean)
    .join(', ')
const look = computed(() => LOOKS.find((l) => l.look === route.query.look)?.look ?? 'strip')
const cursorA = ref<number | null>(null)
const cursorB = ref<number | null>(null)
/** Cycles are looked for once somebody asks for degrees: on a long capture that is work. */
const { cycles: found } = useFolds(
  () => (cursorA.value === null && cursorB.value === null ? null : capture.value),
  '',
)
const session = useSession()
function cursors() {
  const { from, to } = stretch.value
  cursorA.value = from + (to - from) / 3
  cursorB.value = from + (2 * (to - from)) / 3
}
const { traces, problem: sampleProblem } = useTraces(capture, stretch, COLUMNS, corner, (position) => ({
  over: flipped.value.includes(position),
  zero: zeros.value[position] ?? 0,
}))
const at = ref<number | null>(null)
const cycle = ref(-1)
const cycles = computed(() => {
  const starts = capture.value?.cycle_starts_s ?? []
  return starts.slice(0, -1).map((from, i) => ({ from, to: starts[i + 1] ?? from }))
})
const marks = computed(() => capture.value?.cycle_starts_s ?? [])

function show(next: { from: number; to: number }) {
  const span = Math.min(
    Math.max(next.to - next.from, CLOSEST / capture.value!.rate_hz),
    whole.value.to - whole.value.from,
  )
  const from = Math.max(whole.value.from, Math.min(whole.value.to - span, next.from))
  stretch.value = { from, to: from + span }
}
function step(by: number) {
  if (!cycles.value.length) return
  cycle.value = Math.max(0, Math.min(cycles.value.length - 1, cycle.value + by))
  show(cycles.value[cycle.value]!)
}
function closer(factor: number) {
  const middle = (stretch.value.from + stretch.value.to) / 2
  const half = ((stretch.value.to - stretch.value.from) / 2) * factor
  show({ from: middle - half, to: middle + half })
}
function move(share: number) {
  const { from, to } = stretch.value
  const by = share * (to - from)
  show({ from: from + by, to: to + by })
}
function all() {
  cycle.value = -1
  stretch.value = { ...whole.value }
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
const heights = computed(() => {
  const reading = cursorA.value !== null || cursorB.value !== null ? 0.72 : 1
  return Math.round(reading * ([420, 420, 260][capture.value?.channels.length ?? 0] ?? 172))
})
const valueAt = (i: number) => {
  const trace = traces.value[i]
  if (!trace || at.value === null || !trace.times.length) return ''
  const share = (at.value - trace.times[0]!) / (trace.times[trace.times.length - 1]! - trace.times[0]!)
  const value = trace.values[Math.round(share * (trace.times.length - 1))]
  return value === undefined || Number.isNaN(value) ? 'missing' : value.toPrecision(4)
}
</script>

<template>
  <div class="traces">
    <problem-note :problem="problem ?? sampleProblem" :retry="reload" />
    <template v-if="capture">
      <header class="page-head">
        <div>
          <h1>
            {{ capture.name }}
            <span v-if="capture.withdrawn" class="alarm">withdrawn: {{ capture.withdrawn_reason }}</span>
          </h1>
          <p class="small soft">
            {{ capture.case_title }}. Kept by {{ capture.kept_by }}, {{ whenInWords(capture.kept_at) }}.
            <span class="number">{{ capture.samples.toLocaleString('en') }}</span> samples at
            <span class="number">{{ Math.round(capture.rate_hz).toLocaleString('en') }}</span> per second.
          </p>
        </div>
        <div class="beside-title">
          <known-good :capture="capture" @changed="reload" />
          <router-link :to="`/cases/${capture.case}`">Back to the board</router-link>
        </div>
      </header>
      <nav class="ways" aria-label="Ways to look">
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
        <el-dropdown trigger="click" class="out" @command="exportAs">
          <el-button data-test="export">Export what is shown</el-button>
          <template #dropdown>
            <el-dropdown-menu>
              <el-dropdown-item
                v-for="e in look === 'strip' ? [...PICTURES, ...EXPORTS] : PICTURES"
                :key="e.kind"
                :command="e.kind"
                >{{ e.words }}</el-dropdown-item
              >
            </el-dropdown-menu>
          </template>
        </el-dropdown>
      </nav>
      <cycle-looks v-if="look !== 'strip'" :capture="capture" :look="look" />
      <div v-if="look === 'strip'" class="actions bar">
        <el-button @click="all">All of it</el-button>
        <el-button data-test="cursors" @click="cursors"
          >Cursors <span class="keycap">a</span> <span class="keycap">b</span></el-button
        >
        <el-button :disabled="!cycles.length" @click="step(-1)"
          >Cycle back <span class="keycap">[</span></el-button
        >
        <el-button :disabled="!cycles.length" @click="step(1)"
          >Cycle on <span class="keycap">]</span></el-button
        >
        <el-button @click="closer(0.5)">Closer <span class="keycap">+</span></el-button>
        <el-button @click="closer(2)">Wider <span class="keycap">-</span></el-button>
        <el-select v-model="corner" class="corner" aria-label="Low-pass filter" data-test="corner">
          <el-option
            v-for="c in CORNERS"
            :key="c"
            :value="c"
            :label="c ? `Low-pass ${c.toLocaleString('en')} Hz` : 'No filter'"
          />
        </el-select>
        <stretch-words :view="view" :cycle="cycle" :cycles="cycles.length" />
      </div>
      <section v-for="(channel, i) in look === 'strip' ? capture.channels : []" :key="channel.position">
        <h2>
          {{ wordFor('roles', channel.role) }}
          <span class="soft small"
            >{{ channel.name }}, {{ channel.unit
            }}<template v-if="channel.cylinder">, cylinder {{ channel.cylinder }}</template
            ><template v-if="channel.sync">, sync</template></span
          >
          <el-button
            link
            class="flip"
            :aria-pressed="flipped.includes(channel.position)"
            :data-test="`flip-${channel.position}`"
            @click="flip(channel.position)"
            >{{ flipped.includes(channel.position) ? 'Turn back' : 'Turn over' }}</el-button
          >
          <el-button
            link
            class="flip"
            :aria-pressed="zeros[channel.position] !== undefined"
            :data-test="`zero-${channel.position}`"
            @click="zeroHere(channel.position)"
            >{{ zeros[channel.position] === undefined ? 'Zero at A' : 'Zero as measured' }}</el-button
          >
          <span
            v-if="done(channel.position, channel.unit)"
            class="small alarm"
            :data-test="`done-${channel.position}`"
            >{{ done(channel.position, channel.unit) }}</span
          >
          <span v-if="at !== null" class="number small reading"
            >{{ at.toFixed(4) }} s: {{ valueAt(i) }} {{ channel.unit }}</span
          >
        </h2>
        <trace-plot
          :drawn="traces[i]"
          :view="view"
          :label="wordFor('roles', channel.role)"
          :unit="channel.unit"
          :marks="marks"
          :cursors="[cursorA, cursorB]"
          :done="done(channel.position, channel.unit)"
          :height="heights"
          @zoom="show"
          @hover="(s: number | null) => (at = s)"
        />
      </section>
      <cursor-panel
        v-if="look === 'strip' && (cursorA !== null || cursorB !== null)"
        v-model:a="cursorA"
        v-model:b="cursorB"
        :capture="capture"
        :cycles="found"
        :may-pin="session.state?.role !== 'reader'"
      />
      <p v-if="look === 'strip'" class="small soft">
        Dashed lines: where each cycle used begins. Drag over a stretch to look closer; wheel or two fingers
        zoom, shift and wheel, one finger or the arrows move.
      </p>
      <ul v-if="capture.reasons.length" class="small">
        <li v-for="reason in capture.reasons" :key="reason">{{ reason }}</li>
      </ul>
    </template>
  </div>
</template>

<style scoped>
.traces {
  padding: 14px 22px 30px;
}
.ways {
  display: flex;
  margin-bottom: 12px;
}
.ways > button {
  min-height: 44px;
  padding: 0 16px;
  border: 1px solid var(--rule);
  border-right-width: 0;
  background: none;
  color: var(--ink);
  font: inherit;
  cursor: pointer;
}
.ways > button:last-of-type {
  border-right-width: 1px;
}
.ways > button.on {
  background: var(--ink);
  color: var(--work);
  font-weight: 600;
}
.ways .out {
  margin-left: auto;
}
.beside-title {
  display: flex;
  align-items: center;
  gap: 18px;
}
.corner {
  width: 190px;
}
.flip {
  min-height: 30px;
  margin: 0 8px;
}
.bar {
  margin-bottom: 10px;
}
.bar .el-button {
  margin: 0;
}
.bar .keycap {
  margin-left: 8px;
}
h2 {
  margin: 8px 0 2px 8px;
}
.reading {
  float: right;
  margin-right: 12px;
}
</style>
