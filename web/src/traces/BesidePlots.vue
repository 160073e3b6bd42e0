<script setup lang="ts">
import type { useCyclePictures } from './useCyclePictures'
import FoldPlot from './FoldPlot.vue'
import type { Fold } from './useFolds'

/** This capture and another one side by side, averaged, on the same scales. */
type Pictures = ReturnType<typeof useCyclePictures>
defineProps<{
  folds: readonly Fold[]
  names: { this: string; other: string }
  lines: Pictures['besideLines']
  band: Pictures['besideBand']
  reach: Pictures['averages']['value']
  columns: Pictures['columns']['value']
  lead: number
}>()
const SIDES = ['this', 'other'] as const
</script>

<template>
  <div>
    <div v-for="(f, i) in folds" :key="f.position" class="pair">
      <fold-plot
        v-for="side in SIDES"
        :key="side"
        :lines="lines(side, i)"
        :band="band(side, i)"
        :reach="reach"
        :from-deg="lead"
        :to-deg="lead + 720"
        :rules="columns.map((c) => ({ at: c.at + lead, words: c.words.replace('cylinder ', '') }))"
        :label="`${names[side]}${f.cylinder ? `, cylinder ${f.cylinder}` : ''}`"
        :height="Math.max(120, 440 / folds.length)"
        :data-side="side"
      />
    </div>
  </div>
</template>

<style scoped>
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 14px;
}
</style>
