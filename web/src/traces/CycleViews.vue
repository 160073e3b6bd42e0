<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { useKeys } from '@/app/keys'
import ProblemNote from '@/shared/ProblemNote.vue'
import AveragedCycles from './AveragedCycles.vue'
import BesidePlots from './BesidePlots.vue'
import CycleControls from './CycleControls.vue'
import DegreeCursors from './DegreeCursors.vue'
import FoldPlot from './FoldPlot.vue'
import { nextScaling, type Scaling } from './scaling'
import { useCyclePictures } from './useCyclePictures'
import { FAST, useFolds } from './useFolds'
import { useRunner } from './useRunner'
import { useComparable, useUnderneath } from './useUnderneath'
import type { Capture } from './useTraces'

/** A capture by cycle: all events on each other, rows by cylinder, one cycle at a time, or the averaged cycle. */
const props = defineProps<{
  capture: Capture
  look: 'overlay' | 'rows' | 'cycle' | 'average' | 'beside'
}>()

/** Share of a window at the closest look. */
const CLOSEST = 1 / 32
const roles = computed(() => [...new Set(props.capture.channels.filter((c) => !c.sync).map((c) => c.role))])
const role = ref(roles.value[0] ?? props.capture.channels[0]?.role ?? '')
const { cycles, folds, problem } = useFolds(() => props.capture, role)
const comparable = useComparable(() => props.capture)
const { chosen: under, other, below, words: underWords, problem: underProblem } = useUnderneath(cycles, role)
const cursors = ref<[number | null, number | null]>([null, null])
function point(degrees: number) {
  const [a, b] = cursors.value
  cursors.value = a === null || b !== null ? [degrees, null] : [a, degrees]
}
const picked = ref<number | null>(null)
const scaling = ref<Scaling>('same')
const oddFirst = ref(false)
const step = ref(0)
/** Share of a cylinder's window that is shown around its event. */
const share = ref(FAST.includes(role.value) ? 1 / 4 : 1)
// A spark is a tick in a whole window, and reads in the few milliseconds around its event.
watch(role, (now) => (share.value = FAST.includes(now) ? 1 / 4 : 1))

const order = computed(() =>
  oddFirst.value ? (cycles.value?.odd_first ?? []) : (cycles.value?.starts_s.map((_, i) => i) ?? []),
)
const current = computed(() => order.value[Math.min(step.value, order.value.length - 1)] ?? 0)
watch([oddFirst, () => props.capture.id], () => (step.value = 0))

const { slow, direction, playing, pause, go, play } = useRunner(step, () => order.value.length)
watch(
  () => props.look,
  (look) => look !== 'cycle' && pause(),
)
useKeys({
  ']': () => go(1),
  '[': () => go(-1),
  p: () => play(1),
  o: () => play(-1),
  s: () => (slow.value = !slow.value),
  l: () => (scaling.value = nextScaling(scaling.value)),
  '+': () => closer(0.5),
  '-': () => closer(2),
})
for (let c = 1; c <= 9; c++) useKeys({ [String(c)]: () => (picked.value = picked.value === c ? null : c) })

function closer(by: number) {
  share.value = Math.min(1, Math.max(CLOSEST, share.value * by))
}
const {
  windows,
  everything,
  averages,
  overlay,
  widest,
  lead,
  rows,
  ruler,
  columns,
  belowLines,
  oneCycle,
  rpm,
  readable,
  besideLines,
  besideBand,
} = useCyclePictures({
  cycles,
  folds,
  below,
  role,
  picked,
  share,
  scaling,
  current,
  look: () => props.look,
})
const unit = computed(() => props.capture.channels.find((c) => c.role === role.value)?.unit ?? '')
</script>

<template>
  <section class="looks">
    <problem-note :problem="problem ?? underProblem" />
    <p v-if="cycles && !cycles.available" class="soft" data-test="no-cycles">{{ cycles.why_not }}</p>
    <template v-else-if="cycles">
      <cycle-controls
        v-model:role="role"
        v-model:picked="picked"
        v-model:slow="slow"
        v-model:odd-first="oddFirst"
        v-model:scaling="scaling"
        :look="look"
        :roles="roles"
        :cylinders="windows.map((w) => w.cylinder)"
        :running="playing ? (direction > 0 ? 1 : -1) : 0"
        :share="share"
        @go="go"
        @play="play"
        @closer="closer"
      />
      <div class="under-row">
        <label v-if="look === 'cycle' || look === 'average' || look === 'beside'" class="under">
          <span>{{ look === 'beside' ? 'Beside it' : 'Underneath, faint' }}</span>
          <el-select
            v-model="under"
            clearable
            placeholder="nothing"
            no-data-text="No other capture of this case, and none held as known good"
            aria-label="The other capture"
            data-test="under"
          >
            <el-option v-for="o in comparable" :key="o.id" :value="o.id" :label="o.words" />
          </el-select>
          <span v-if="under !== null" class="small soft" data-test="under-lines" :data-lines="below.length">{{
            underWords
          }}</span>
        </label>
        <degree-cursors
          v-if="look === 'cycle' || look === 'average'"
          v-model="cursors"
          :lines="readable"
          :unit="unit"
          :lead="lead"
          :rpm="rpm"
        />
      </div>
      <p v-if="scaling !== 'same' && look === 'rows'" class="alarm small" role="status" data-test="unlocked">
        {{
          scaling === 'own'
            ? 'Each row has a scale of its own: heights cannot be compared.'
            : 'What runs out of its row is higher than it can be shown.'
        }}
      </p>
      <p class="small soft">
        {{ cycles.starts_s.length }} cycles by {{ cycles.sync }}, {{ unit
        }}<template v-if="!cycles.certain"
          >. Once per revolution: a cylinder and its companion may be exchanged</template
        ><template v-if="look === 'cycle'"
          >. Cycle <span data-test="cycle-number">{{ current + 1 }}</span>, {{ Math.round(rpm) }} rpm,
          {{ (cycles.oddness[current] ?? 0).toFixed(1) }} times as far from the usual cycle as most</template
        >
      </p>
      <template v-if="folds.length">
        <fold-plot
          v-if="look === 'overlay'"
          :lines="overlay"
          :reach="everything"
          :from-deg="widest[0]"
          :to-deg="widest[1]"
          :rules="[{ at: 0, words: 'event' }]"
          scale
          :label="`${overlay.length} events on each other`"
          :height="480"
        />
        <template v-else-if="look === 'rows'">
          <div v-for="r in rows" :key="r.cylinder" class="row">
            <strong class="number">{{ r.cylinder }}</strong>
            <fold-plot
              :lines="r.drawn"
              :reach="r.reach"
              v-bind="{ fromDeg: r.shown[0], toDeg: r.shown[1] }"
              :rules="[{ at: 0, words: 'event' }]"
              scale
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
          :height="400"
          :cursors="cursors"
          @point="point"
        />
        <beside-plots
          v-else-if="look === 'beside'"
          :folds="folds"
          :names="{ this: capture.name, other: other?.name ?? 'The other capture' }"
          :lines="besideLines"
          :band="besideBand"
          v-bind="{ reach: averages, columns, lead }"
        />
        <averaged-cycles
          v-else
          :capture="capture"
          :role="role"
          :folds="folds"
          :below="belowLines"
          v-bind="{ reach: everything, columns, lead }"
          :cursors="cursors"
          @point="point"
        />
      </template>
      <p v-else class="soft">Folding …</p>
    </template>
    <p v-else class="soft">Looking for cycles …</p>
  </section>
</template>

<style scoped>
.under-row {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 2px 22px;
}
.under {
  display: flex;
  align-items: center;
  gap: 10px;
}
.under .el-select {
  width: 220px;
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
