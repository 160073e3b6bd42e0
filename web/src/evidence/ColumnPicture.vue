<script setup lang="ts">
import { computed } from 'vue'

/** The whole of one column: lows and highs, where it cranks, and what of it is kept. */
const props = defineProps<{
  name: string
  values: readonly number[]
  attempts: readonly (readonly number[])[]
  /** In per cent of the whole. */
  part: readonly [number, number]
}>()

const HEIGHT = 56
const path = computed(() => {
  const values = props.values
  if (!values.length) return ''
  const low = Math.min(...values)
  const span = Math.max(...values) - low || 1
  const y = (v: number) => (HEIGHT - 3 - ((HEIGHT - 6) * (v - low)) / span).toFixed(1)
  const groups = Math.ceil(values.length / 2)
  const highs: string[] = []
  const lows: string[] = []
  for (let i = 0; i < groups; i++) {
    const x = ((100 * i) / Math.max(groups - 1, 1)).toFixed(2)
    const pair = [values[2 * i]!, values[2 * i + 1] ?? values[2 * i]!]
    highs.push(`${x} ${y(Math.max(...pair))}`)
    lows.unshift(`${x} ${y(Math.min(...pair))}`)
  }
  return `M${highs.join('L')}L${lows.join('L')}Z`
})
</script>

<template>
  <svg
    :viewBox="`0 0 100 ${HEIGHT}`"
    preserveAspectRatio="none"
    role="img"
    :aria-label="`The whole of ${name}`"
  >
    <rect
      v-for="[from, to] in attempts"
      :key="from"
      class="attempt"
      :x="100 * (from ?? 0)"
      :width="100 * ((to ?? 1) - (from ?? 0))"
      y="0"
      :height="HEIGHT"
    />
    <path :d="path" />
    <rect v-if="part[0] > 0" class="off" x="0" y="0" :width="part[0]" :height="HEIGHT" />
    <rect v-if="part[1] < 100" class="off" :x="part[1]" y="0" :width="100 - part[1]" :height="HEIGHT" />
  </svg>
</template>

<style scoped>
svg {
  width: 100%;
  height: 56px;
  border: 1px solid var(--rule-soft);
  background: var(--work);
  display: block;
}
path {
  fill: var(--trace);
  stroke: var(--trace);
  stroke-width: 1.2;
  vector-effect: non-scaling-stroke;
}
.attempt {
  fill: var(--stripe);
}
.off {
  fill: var(--work);
  opacity: 0.8;
}
</style>
