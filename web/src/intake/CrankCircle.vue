<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'

/** The firing order on the crank circle: inner ring first turn, outer ring second turn. */
const props = defineProps<{ places: readonly Schemas['Place'][]; problem: string }>()

const SIZE = 250
const CENTRE = SIZE / 2
const spots = computed(() =>
  props.places.map((place, i) => {
    const radius = place.second_turn ? 98 : 62
    const angle = ((place.crank_deg - 90) * Math.PI) / 180
    return { ...place, key: i, x: CENTRE + radius * Math.cos(angle), y: CENTRE + radius * Math.sin(angle) }
  }),
)
const path = computed(() =>
  spots.value.map((s, i) => `${i ? 'L' : 'M'}${s.x.toFixed(1)} ${s.y.toFixed(1)}`).join(''),
)
const words = computed(() =>
  props.problem
    ? props.problem
    : `Crank circle: ${props.places.map((p) => `cylinder ${p.cylinder} at ${Math.round(p.cycle_deg)} degrees`).join(', ')}`,
)
</script>

<template>
  <figure>
    <svg :viewBox="`0 0 ${SIZE} ${SIZE}`" role="img" :aria-label="words">
      <circle :cx="CENTRE" :cy="CENTRE" r="62" class="ring" />
      <circle :cx="CENTRE" :cy="CENTRE" r="98" class="ring" />
      <path v-if="places.length > 1" :d="path" class="way" />
      <g v-for="spot in spots" :key="spot.key" :class="{ wrong: spot.wrong }">
        <rect v-if="spot.wrong" :x="spot.x - 16" :y="spot.y - 16" width="32" height="32" />
        <circle v-else :cx="spot.x" :cy="spot.y" r="16" />
        <text :x="spot.x" :y="spot.y + 6">{{ spot.cylinder }}</text>
      </g>
      <text :x="CENTRE + 34" y="17" class="mid">0°</text>
      <text :x="CENTRE + 42" :y="SIZE - 7" class="mid">180°</text>
    </svg>
    <figcaption class="small soft">
      Inner ring: first turn. Outer ring: second turn. Same direction from the centre: companions.
    </figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
  width: 250px;
  flex: none;
}
.ring {
  fill: none;
  stroke: var(--rule);
}
.way {
  fill: none;
  stroke: var(--trace);
  stroke-width: 1.5;
  stroke-dasharray: 4 4;
}
g circle,
g rect {
  fill: var(--work);
  stroke: var(--ink);
  stroke-width: 2;
}
g.wrong rect {
  stroke: var(--alarm);
  stroke-width: 3;
  fill: var(--stripe);
}
text {
  text-anchor: middle;
  font-family: var(--numbers);
  font-weight: 600;
  font-size: 17px;
  fill: var(--ink);
}
text.mid {
  font-weight: 400;
  font-size: 15px;
  fill: var(--ink-soft);
}
</style>
