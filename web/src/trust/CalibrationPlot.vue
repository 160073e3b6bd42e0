<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'

/** What was said against what was right: on the line the chances are honest. A square is as large as its vehicles. */
const props = defineProps<{ calibration: Schemas['Calibration']; atMost: number }>()

const SIZE = 230
const most = computed(() => Math.max(...props.calibration.bins.map((b) => b.count), 1))
const squares = computed(() =>
  props.calibration.bins.map((b) => ({
    x: b.claimed * SIZE,
    y: SIZE - b.right * SIZE,
    side: 7 + 17 * Math.sqrt(b.count / most.value),
    words: `Said ${(100 * b.claimed).toFixed(0)} %, right ${(100 * b.right).toFixed(0)} %, ${b.count} vehicles`,
  })),
)
const ticks = [0, 0.25, 0.5, 0.75, 1]
</script>

<template>
  <figure data-test="calibration">
    <svg
      :viewBox="`-44 -14 ${SIZE + 70} ${SIZE + 56}`"
      role="img"
      aria-label="Chance said against share right"
    >
      <rect x="0" y="0" :width="SIZE" :height="SIZE" class="frame" />
      <line x1="0" :y1="SIZE" :x2="SIZE" y2="0" class="honest" />
      <g v-for="t in ticks" :key="t">
        <text :x="t * SIZE" :y="SIZE + 18" text-anchor="middle">{{ 100 * t }}</text>
        <text x="-8" :y="SIZE - t * SIZE + 5" text-anchor="end">{{ 100 * t }}</text>
      </g>
      <text :x="SIZE / 2" :y="SIZE + 38" text-anchor="middle">said, %</text>
      <text x="6" y="16">right, %</text>
      <rect
        v-for="square in squares"
        :key="square.words"
        :x="square.x - square.side / 2"
        :y="square.y - square.side / 2"
        :width="square.side"
        :height="square.side"
        class="bin"
      >
        <title>{{ square.words }}</title>
      </rect>
    </svg>
    <figcaption class="small">
      On the line a chance of 80 % is right 80 % of the time. On average they are
      <strong class="number">{{ (100 * calibration.error).toFixed(1) }}</strong> points off (at most
      {{ (100 * atMost).toFixed(0) }}).
      <span class="visually-hidden">{{ squares.map((s) => s.words).join('. ') }}</span>
    </figcaption>
  </figure>
</template>

<style scoped>
figure {
  position: relative;
  margin: 0;
  display: grid;
  grid-template-columns: 260px minmax(0, 1fr);
  gap: 12px;
  align-items: center;
}
.frame {
  fill: none;
  stroke: var(--rule);
}
.honest {
  stroke: var(--ink-soft);
  stroke-dasharray: 5 4;
}
.bin {
  fill: var(--spread);
  stroke: var(--trace);
  stroke-width: 2;
}
text {
  font-size: 14px;
  fill: var(--ink);
  font-family: var(--numbers);
}
@media (max-width: 899px) {
  figure {
    grid-template-columns: minmax(0, 1fr);
  }
  svg {
    max-width: 300px;
  }
}
</style>
