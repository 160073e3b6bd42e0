<script setup lang="ts">
import FoldPlot, { type Line } from './FoldPlot.vue'
import { reach as reachOf, type Fold } from './useFolds'
import { usePressure } from './usePressure'
import type { Capture } from './useTraces'

/** The averaged cycle of every channel, over another capture's and over the computed pressure where there is one. */
const props = defineProps<{
  capture: Capture
  role: string
  folds: readonly Fold[]
  below: readonly Line[]
  columns: readonly { at: number; words: string }[]
  lead: number
  reach: readonly [number, number]
  cursors: readonly (number | null)[]
}>()
const emit = defineEmits<{ point: [degrees: number] }>()

const pressure = usePressure(
  () => props.capture,
  () => props.role,
)
function lines(f: Fold): Line[] {
  const sound = pressure.line(f.position)
  return [
    ...props.below,
    ...(sound ? [{ values: sound, pairs: false, tone: 'computed' as const }] : []),
    { values: f.average[0]!, pairs: false, tone: 'plain' },
  ]
}
const rules = (f: Fold) =>
  pressure.line(f.position)
    ? pressure.rules(f.position)
    : props.columns.map((c) => ({ at: c.at + props.lead, words: c.words }))
const reachFor = (f: Fold): readonly [number, number] => {
  const sound = pressure.line(f.position)
  return sound ? reachOf([...f.average, sound]) : props.reach
}
</script>

<template>
  <div v-for="f in folds" :key="f.position">
    <fold-plot
      :lines="lines(f)"
      :band="{ low: f.average[1]!, high: f.average[2]! }"
      :reach="reachFor(f)"
      :from-deg="lead"
      :to-deg="lead + 720"
      :rules="rules(f)"
      :label="`Averaged cycle${f.cylinder ? ` of cylinder ${f.cylinder}` : ''}`"
      :height="Math.max(110, 420 / folds.length)"
      :cursors="cursors"
      @point="(degrees: number) => emit('point', degrees)"
    />
    <p v-if="pressure.words(f.position)" class="small soft" data-test="computed">
      Dashed: what a sound cylinder of this engine would show. Cylinder {{ f.cylinder }}:
      {{ pressure.words(f.position) }}.
    </p>
  </div>
</template>
