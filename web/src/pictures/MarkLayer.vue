<script setup lang="ts">
import { computed } from 'vue'
import { arrowHead, ringAxes, type Mark } from './marks'

/** Marks on top of a picture, light on a dark edge so that they show on anything. */
const props = defineProps<{ marks: readonly Mark[]; width: number; height: number }>()
const thick = computed(() => 0.006 * Math.max(props.width, props.height))
</script>

<template>
  <svg class="marks" :viewBox="`0 0 ${width} ${height}`" preserveAspectRatio="none" aria-hidden="true">
    <g v-for="under in [true, false]" :key="String(under)" :class="under ? 'edge' : 'line'">
      <g
        v-for="(mark, i) in marks"
        :key="i"
        :stroke-width="under ? 2.2 * thick : thick"
        :data-mark="under ? undefined : mark.kind"
      >
        <template v-if="mark.kind === 'arrow'">
          <line
            :x1="mark.x * width"
            :y1="mark.y * height"
            :x2="(mark.to_x ?? 0) * width"
            :y2="(mark.to_y ?? 0) * height"
          />
          <polyline :points="arrowHead(mark, width, height)" />
        </template>
        <ellipse
          v-else-if="mark.kind === 'ring'"
          :cx="mark.x * width"
          :cy="mark.y * height"
          v-bind="ringAxes(mark, width, height)"
        />
        <text
          v-else
          :x="mark.x * width"
          :y="mark.y * height"
          :font-size="5 * thick"
          :stroke-width="under ? thick : 0"
        >
          {{ mark.kind === 'cylinder' ? `cyl. ${mark.cylinder}` : mark.words }}
        </text>
      </g>
    </g>
  </svg>
</template>

<style scoped>
.marks {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  pointer-events: none;
}
.edge {
  stroke: #14202b;
  fill: none;
}
.line {
  stroke: #ffd9b8;
  fill: none;
}
.edge text {
  fill: #14202b;
  stroke-linejoin: round;
}
.line text {
  fill: #ffd9b8;
  stroke: none;
}
text {
  font-weight: 700;
}
line,
polyline,
ellipse {
  stroke-linecap: round;
  stroke-linejoin: round;
}
</style>
