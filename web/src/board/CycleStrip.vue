<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'

/** The averaged cycle over the whole axis: median line on its quartile band, on a scale others may share. */
const props = defineProps<{ strip: Schemas['Strip']; title: string; scale?: readonly [number, number] }>()

const HEIGHT = 100
const shape = computed(() => {
  const { low, middle, high } = props.strip
  const [floor, ceiling] = props.scale ?? [Math.min(...low), Math.max(...high)]
  const span = ceiling - floor || 1
  const last = middle.length
  const at = (values: readonly number[]) =>
    [...values, values[0] ?? 0].map(
      (v, i) => [(1000 * i) / last, HEIGHT - (HEIGHT * (v - floor)) / span] as const,
    )
  const line = (points: readonly (readonly [number, number])[]) =>
    points.map(([x, y], i) => `${i ? 'L' : 'M'}${x.toFixed(1)} ${y.toFixed(1)}`).join('')
  const back = at(low).reverse()
  return { middle: line(at(middle)), band: `${line(at(high))}${line(back).replace('M', 'L')}Z` }
})
</script>

<template>
  <svg viewBox="0 0 1000 100" preserveAspectRatio="none" role="img" :aria-label="`Averaged cycle, ${title}`">
    <path :d="shape.band" class="band" />
    <path :d="shape.middle" class="middle" data-test="strip" />
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  height: 100%;
}
.band {
  fill: var(--spread);
}
.middle {
  fill: none;
  stroke: var(--trace);
  stroke-width: 2;
  vector-effect: non-scaling-stroke;
}
</style>
