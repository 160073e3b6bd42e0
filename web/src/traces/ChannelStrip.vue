<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed } from 'vue'
import { wordFor } from '@/shared/words'
import { strokesOf, type CylinderEvent } from './cylinderEvents'
import TracePlot from './TracePlot.vue'
import type { Capture, Drawn, Stretch, View } from './useTraces'

/** One channel over time, with its name, what was done to its picture, and the value under the pointer. */
const props = defineProps<{
  channel: Capture['channels'][number]
  drawn: Drawn | undefined
  view: View
  marks: readonly number[]
  events: readonly CylinderEvent[]
  /** Whether the events are where cylinders fire. */
  fires: boolean
  cursors: [number | null, number | null]
  done: string
  over: boolean
  zeroed: boolean
  height: number
  at: number | null
}>()
const emit = defineEmits<{ flip: []; zero: []; zoom: [next: Stretch]; hover: [s: number | null] }>()
const strokes = computed(() =>
  props.fires && props.channel.cylinder ? strokesOf(props.events, props.channel.cylinder) : [],
)
const value = computed(() => {
  const { drawn, at } = props
  if (!drawn || at === null || !drawn.times.length) return ''
  const first = drawn.times[0]!
  const share = (at - first) / (drawn.times[drawn.times.length - 1]! - first)
  const found = drawn.values[Math.round(share * (drawn.times.length - 1))]
  return found === undefined || Number.isNaN(found) ? 'missing' : found.toPrecision(4)
})
</script>

<template>
  <section>
    <h2>
      {{ wordFor('roles', channel.role) }}
      <span class="soft small"
        >{{ channel.name }}, {{ channel.unit
        }}<template v-if="channel.cylinder">, cylinder {{ channel.cylinder }}</template
        ><template v-if="channel.sync">, sync</template
        ><template v-if="channel.lead">, {{ channel.lead }}</template></span
      >
      <el-button
        link
        class="flip"
        :aria-pressed="over"
        :data-test="`flip-${channel.position}`"
        @click="emit('flip')"
        >{{ over ? 'Turn back' : 'Turn over' }}</el-button
      >
      <el-button
        link
        class="flip"
        :aria-pressed="zeroed"
        :data-test="`zero-${channel.position}`"
        @click="emit('zero')"
        >{{ zeroed ? 'Zero as measured' : 'Zero at A' }}</el-button
      >
      <span v-if="done" class="small alarm" :data-test="`done-${channel.position}`">{{ done }}</span>
      <span v-if="at !== null" class="number small reading"
        >{{ at.toFixed(4) }} s: {{ value }} {{ channel.unit }}</span
      >
    </h2>
    <trace-plot
      :drawn="drawn"
      :view="view"
      :label="wordFor('roles', channel.role)"
      :unit="channel.unit"
      :marks="marks"
      :events="events"
      :strokes="strokes"
      :cursors="cursors"
      :done="done"
      :height="height"
      @zoom="(next: Stretch) => emit('zoom', next)"
      @hover="(s: number | null) => emit('hover', s)"
    />
  </section>
</template>

<style scoped>
h2 {
  margin: 8px 0 2px 8px;
}
.flip {
  min-height: 30px;
  margin: 0 8px;
}
.reading {
  float: right;
  margin-right: 12px;
}
</style>
