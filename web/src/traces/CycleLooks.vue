<script setup lang="ts">
import { ElButton, ElCheckbox, ElOption, ElSelect } from 'element-plus'
import { useIntervalFn } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'
import { answer, client } from '@/api/client'
import { toProblem } from '@/api/problems'
import { useKeys } from '@/app/keys'
import ProblemNote from '@/shared/ProblemNote.vue'
import { ROLE_WORDS } from '@/shared/words'
import FoldPlot, { type Line } from './FoldPlot.vue'
import { binsOf, reach, useFolds, type Fold } from './useFolds'
import type { Capture } from './useTraces'

/** A capture by cycle: all events on each other, rows by cylinder, one cycle at a time, or the averaged cycle. */
const props = defineProps<{
  capture: Capture
  look: 'overlay' | 'rows' | 'cycle' | 'average'
  /** Other captures of the case, to lay underneath. */
  others: readonly { id: number; words: string }[]
}>()

const PACE_MS = 450
const STROKES = ['power', 'exhaust', 'intake', 'compression']
const roles = computed(() => [...new Set(props.capture.channels.filter((c) => !c.sync).map((c) => c.role))])
const role = ref(roles.value[0] ?? props.capture.channels[0]?.role ?? '')
const { cycles, folds, problem } = useFolds(() => props.capture, role)
const under = ref<number | null>(null)
const underneath = shallowRef<Capture | null>(null)
watch(under, async (id) => {
  underneath.value = null
  if (id === null) return
  try {
    underneath.value = await answer(
      client.GET('/api/captures/{capture_id}/', { params: { path: { capture_id: id } } }),
    )
  } catch (fault) {
    problem.value = toProblem(fault)
  }
})
const { cycles: underCycles, folds: underFolds, problem: underProblem } = useFolds(underneath, role)
/** The other capture's averaged cycle, turned so that the same cylinder begins it. */
const below = computed<Float32Array[]>(() => {
  const mine = windows.value[0]
  const theirs = underCycles.value?.windows.find((w) => w.cylinder === mine?.cylinder)
  if (!mine || !theirs) return []
  return underFolds.value.map((f) => {
    const middle = f.average[0]!
    const by = Math.round(((theirs.from_deg - (underCycles.value?.from_deg ?? 0)) / 720) * middle.length)
    return Float32Array.from(middle, (_, i) => middle[(i + by) % middle.length]!)
  })
})
const picked = ref<number | null>(null)
const locked = ref(true)
const oddFirst = ref(false)
const step = ref(0)
/** Share of a cylinder's window that is shown, from its event on. */
const share = ref(1)

const order = computed(() =>
  oddFirst.value ? (cycles.value?.odd_first ?? []) : (cycles.value?.starts_s.map((_, i) => i) ?? []),
)
const current = computed(() => order.value[Math.min(step.value, order.value.length - 1)] ?? 0)
watch([oddFirst, () => props.capture.id], () => (step.value = 0))

const { pause, resume, isActive: playing } = useIntervalFn(() => go(1, true), PACE_MS, { immediate: false })
function go(by: number, round = false) {
  const count = order.value.length
  if (!count) return
  step.value = round ? (step.value + by + count) % count : Math.max(0, Math.min(count - 1, step.value + by))
}
const play = () => (playing.value ? pause() : resume())
watch(
  () => props.look,
  (look) => look !== 'cycle' && pause(),
)
useKeys({
  ']': () => go(1),
  '[': () => go(-1),
  p: play,
  '+': () => closer(0.5),
  '-': () => closer(2),
})
for (let c = 1; c <= 9; c++) useKeys({ [String(c)]: () => (picked.value = picked.value === c ? null : c) })

const windows = computed(() => cycles.value?.windows ?? [])
/** The channel that shows a cylinder: its own, or the shared one. */
const foldOf = (cylinder: number): Fold | undefined =>
  folds.value.find((f) => f.cylinder === cylinder) ?? folds.value.find((f) => f.cylinder === null)
function cut(row: Float32Array, fromDeg: number, toDeg: number): Float32Array {
  const start = cycles.value?.from_deg ?? 0
  const at = (deg: number) => 2 * Math.round(((deg - start) / 720) * binsOf(role.value))
  return row.subarray(at(fromDeg), at(toDeg))
}
const events = computed(() =>
  windows.value.map((w) => ({
    ...w,
    lines: (foldOf(w.cylinder)?.rows ?? []).map((row) =>
      cut(row, w.from_deg, w.from_deg + share.value * (w.to_deg - w.from_deg)),
    ),
  })),
)
const everything = computed(() => reach([...folds.value.flatMap((f) => f.rows), ...below.value]))
const overlay = computed<Line[]>(() =>
  events.value.flatMap((e) =>
    e.lines.map((values) => ({
      values,
      pairs: true,
      tone: e.cylinder === picked.value ? ('picked' as const) : ('faint' as const),
    })),
  ),
)
const widest = computed(() => share.value * Math.max(0, ...windows.value.map((w) => w.to_deg - w.from_deg)))
function closer(by: number) {
  share.value = Math.min(1, Math.max(1 / 4, share.value * by))
}
const lead = computed(() => cycles.value?.from_deg ?? 0)
const rows = computed(() =>
  events.value.map((e) => ({
    ...e,
    drawn: e.lines.map((values) => ({
      values,
      pairs: true,
      tone: e.cylinder === picked.value ? ('picked' as const) : ('faint' as const),
    })),
    reach: locked.value ? everything.value : reach(e.lines),
  })),
)
const ruler = computed(() =>
  STROKES.map((words, i) => ({
    at: 180 * i,
    words: `${180 * i}° ${words} ${windows.value[0]?.cylinder ?? ''}`,
  })),
)
const columns = computed(() =>
  windows.value.map((w) => ({ at: w.from_deg - lead.value, words: `cylinder ${w.cylinder}` })),
)
const underWords = computed(() => {
  if (underCycles.value && !underCycles.value.available) return underCycles.value.why_not
  if (underneath.value && !underneath.value.channels.some((c) => c.role === role.value))
    return `It holds no ${(ROLE_WORDS[role.value] ?? role.value).toLowerCase()}.`
  return 'averaged, aligned by the crank angle of the same cylinder'
})
const belowLines = computed<Line[]>(() =>
  below.value.map((values) => ({ values, pairs: false, tone: 'faint' as const })),
)
const oneCycle = computed<Line[]>(() => [
  ...belowLines.value,
  ...folds.value.map((f) => ({
    values: f.rows[current.value] ?? new Float32Array(),
    pairs: true,
    tone: f.cylinder !== null && f.cylinder === picked.value ? ('picked' as const) : ('plain' as const),
  })),
])
const rpm = computed(() => {
  const c = cycles.value
  if (!c) return ''
  const seconds = (c.ends_s[current.value] ?? 0) - (c.starts_s[current.value] ?? 0)
  return seconds > 0 ? `${Math.round(120 / seconds)} rpm` : ''
})
const unit = computed(() => props.capture.channels.find((c) => c.role === role.value)?.unit ?? '')
</script>

<template>
  <section class="looks">
    <problem-note :problem="problem ?? underProblem" />
    <p v-if="cycles && !cycles.available" class="soft" data-test="no-cycles">{{ cycles.why_not }}</p>
    <template v-else-if="cycles">
      <div class="actions bar">
        <el-select v-model="role" aria-label="What to look at" class="role">
          <el-option v-for="r in roles" :key="r" :value="r" :label="ROLE_WORDS[r] ?? r" />
        </el-select>
        <div class="picks" role="group" aria-label="Pick a cylinder out">
          <el-button
            v-for="w in windows"
            :key="w.cylinder"
            :type="picked === w.cylinder ? 'primary' : 'default'"
            :aria-pressed="picked === w.cylinder"
            :aria-label="`Pick cylinder ${w.cylinder} out`"
            :data-test="`pick-${w.cylinder}`"
            @click="picked = picked === w.cylinder ? null : w.cylinder"
            >{{ w.cylinder }}</el-button
          >
        </div>
        <template v-if="look === 'cycle'">
          <el-button @click="go(-1)">Back <span class="keycap">[</span></el-button>
          <el-button data-test="play" @click="play"
            >{{ playing ? 'Hold' : 'Run' }} <span class="keycap">p</span></el-button
          >
          <el-button @click="go(1)">On <span class="keycap">]</span></el-button>
          <el-checkbox v-model="oddFirst" data-test="odd-first">Odd ones first</el-checkbox>
        </template>
        <template v-if="look === 'overlay' || look === 'rows'">
          <el-button :disabled="share <= 0.25" data-test="closer" @click="closer(0.5)"
            >Closer <span class="keycap">+</span></el-button
          >
          <el-button :disabled="share >= 1" @click="closer(2)">Wider <span class="keycap">-</span></el-button>
        </template>
        <el-checkbox v-if="look === 'rows'" v-model="locked" data-test="lock">Same scale</el-checkbox>
      </div>
      <label v-if="others.length && (look === 'cycle' || look === 'average')" class="under">
        <span>Underneath, faint</span>
        <el-select v-model="under" clearable placeholder="nothing" aria-label="Underneath" data-test="under">
          <el-option v-for="o in others" :key="o.id" :value="o.id" :label="o.words" />
        </el-select>
        <span v-if="under !== null" class="small soft" data-test="under-lines" :data-lines="below.length">{{
          underWords
        }}</span>
      </label>
      <p v-if="!locked && look === 'rows'" class="alarm small" role="status" data-test="unlocked">
        Each row has a scale of its own: heights cannot be compared.
      </p>
      <p class="small soft">
        {{ cycles.starts_s.length }} cycles by {{ cycles.sync }}, {{ unit
        }}<template v-if="!cycles.certain"
          >. Once per revolution: a cylinder and its companion may be exchanged</template
        ><template v-if="look === 'cycle'"
          >. Cycle <span data-test="cycle-number">{{ current + 1 }}</span>, {{ rpm }},
          {{ (cycles.oddness[current] ?? 0).toFixed(1) }} times as far from the usual cycle as most</template
        >
      </p>
      <template v-if="folds.length">
        <fold-plot
          v-if="look === 'overlay'"
          :lines="overlay"
          :reach="everything"
          :from-deg="lead"
          :to-deg="lead + widest"
          :rules="[{ at: 0, words: 'event' }]"
          :label="`${overlay.length} events on each other`"
          :height="480"
        />
        <template v-else-if="look === 'rows'">
          <div v-for="r in rows" :key="r.cylinder" class="row">
            <strong class="number">{{ r.cylinder }}</strong>
            <fold-plot
              :lines="r.drawn"
              :reach="r.reach"
              :from-deg="lead"
              :to-deg="lead + share * (r.to_deg - r.from_deg)"
              :rules="[{ at: 0, words: '' }]"
              :label="`Events of cylinder ${r.cylinder}`"
              :height="Math.max(92, 480 / rows.length)"
              :data-cylinder="r.cylinder"
            />
          </div>
        </template>
        <fold-plot
          v-else-if="look === 'cycle'"
          :lines="oneCycle"
          :reach="everything"
          :from-deg="lead"
          :to-deg="lead + 720"
          :rules="ruler"
          :label="`Cycle ${current + 1}`"
          :height="480"
        />
        <div v-for="f in folds" v-else :key="f.position">
          <fold-plot
            :lines="[...belowLines, { values: f.average[0]!, pairs: false, tone: 'plain' }]"
            :band="{ low: f.average[1]!, high: f.average[2]! }"
            :reach="everything"
            :from-deg="lead"
            :to-deg="lead + 720"
            :rules="columns.map((c) => ({ at: c.at + lead, words: c.words }))"
            :label="`Averaged cycle${f.cylinder ? ` of cylinder ${f.cylinder}` : ''}`"
            :height="Math.max(120, 480 / folds.length)"
          />
        </div>
      </template>
      <p v-else class="soft">Folding …</p>
    </template>
    <p v-else class="soft">Looking for cycles …</p>
  </section>
</template>

<style scoped>
.bar {
  margin-bottom: 8px;
}
.bar .el-button,
.picks .el-button {
  margin: 0;
}
.bar .keycap {
  margin-left: 8px;
}
.role {
  width: 210px;
}
.picks {
  display: flex;
  gap: 4px;
}
.picks .el-button {
  min-width: 44px;
  padding: 0 10px;
}
.under {
  display: flex;
  align-items: center;
  gap: 10px;
  margin-bottom: 6px;
}
.under .el-select {
  width: 260px;
}
.row {
  display: grid;
  grid-template-columns: 34px 1fr;
  align-items: center;
}
.row strong {
  font-size: 1.4rem;
}
</style>
