<script setup lang="ts">
import { useElementSize, useMutationObserver } from '@vueuse/core'
import { computed, onBeforeUnmount, onMounted, useTemplateRef, watch } from 'vue'
import type { Bench, Live } from './useBench'
import { cssVariable } from '@/shared/cssVariable'

/** Channels one under the other as they come in, each in its own band on one time axis. */
const props = defineProps<{
  live: Live | null
  leads: Bench['leads']
  seconds: number
  rate: number
  /** Moments at which something was lost, s. */
  marks: readonly number[]
}>()

const host = useTemplateRef<HTMLDivElement>('host')
const canvas = useTemplateRef<HTMLCanvasElement>('canvas')
const { width, height } = useElementSize(host)
const drawn = computed(() => props.live?.columns ?? 0)

let wanted = 0

/** What a band spans: the samples so far with a little room, so that nothing touches its edges. */
function span(values: Float32Array, count: number): [number, number] {
  let low = Infinity
  let high = -Infinity
  for (let i = 0; i < 2 * count; i++) {
    const v = values[i]!
    if (v < low) low = v
    if (v > high) high = v
  }
  if (low > high) return [0, 1]
  const room = Math.max((high - low) * 0.08, 1e-6)
  return [low - room, high + room]
}
/** Channels of one role share a scale: unequal scales make a weak cylinder look like the others. */
function scales(now: Live): Map<string, [number, number]> {
  const found = new Map<string, [number, number]>()
  props.leads.forEach((lead, row) => {
    const values = now.values[row]
    if (!values || now.columns === 0) return
    const [low, high] = span(values, now.columns)
    const other = found.get(lead.role)
    found.set(lead.role, other ? [Math.min(low, other[0]), Math.max(high, other[1])] : [low, high])
  })
  return found
}
function draw() {
  wanted = 0
  const sheet = canvas.value
  const context = sheet?.getContext('2d')
  if (!sheet || !context) return
  const dense = window.devicePixelRatio || 1
  if (sheet.width !== Math.round(width.value * dense)) sheet.width = Math.round(width.value * dense)
  if (sheet.height !== Math.round(height.value * dense)) sheet.height = Math.round(height.value * dense)
  context.setTransform(dense, 0, 0, dense, 0, 0)
  context.clearRect(0, 0, width.value, height.value)
  const bands = Math.max(props.leads.length, 1)
  const tall = height.value / bands
  const left = 84
  const across = width.value - left - 6
  context.font = '14px "Atkinson Hyperlegible Mono"'
  const shared = props.live ? scales(props.live) : new Map<string, [number, number]>()
  props.leads.forEach((lead, row) => {
    const top = row * tall
    context.strokeStyle = cssVariable('--rule')
    context.strokeRect(left + 0.5, Math.round(top) + 3.5, across, tall - 8)
    const now = props.live
    const values = now?.values[row]
    if (!now || !values || now.columns === 0) return
    const [low, high] = shared.get(lead.role) ?? [0, 1]
    const y = (v: number) => top + tall - 8 - ((v - low) / (high - low)) * (tall - 16)
    const perColumn = (across * now.step) / (props.rate * props.seconds)
    context.strokeStyle = cssVariable('--trace')
    context.lineWidth = 1.4
    context.beginPath()
    for (let i = 0; i < now.columns; i++) {
      const x = left + i * perColumn
      context.lineTo(x, y(values[2 * i]!))
      context.lineTo(x, y(values[2 * i + 1]!))
    }
    context.stroke()
    context.strokeStyle = cssVariable('--alarm')
    for (const at of props.marks) {
      const x = left + (across * at) / props.seconds
      context.strokeRect(x, top + 4, 0.01, tall - 8)
    }
    context.fillStyle = cssVariable('--ink-soft')
    context.textAlign = 'right'
    context.fillText(high.toPrecision(3), left - 8, top + 20)
    context.fillText(low.toPrecision(3), left - 8, top + tall - 10)
  })
}
function soon() {
  if (!wanted) wanted = requestAnimationFrame(draw)
}
onMounted(soon)
watch([() => props.live, () => props.leads, () => props.marks, width, height], soon)
useMutationObserver(document.documentElement, soon, { attributes: true, attributeFilter: ['data-bay'] })
onBeforeUnmount(() => cancelAnimationFrame(wanted))
</script>

<template>
  <div class="traces">
    <ol class="names" aria-hidden="true">
      <li v-for="lead in leads" :key="lead.channel">
        <span
          ><strong>{{ lead.name }}</strong> {{ lead.unit }}</span
        >
      </li>
    </ol>
    <div
      ref="host"
      class="sheet"
      role="img"
      :aria-label="`Live traces of ${leads.map((l) => l.name).join(', ')}`"
      :data-columns="drawn"
      data-test="live"
    >
      <canvas ref="canvas"></canvas>
    </div>
  </div>
</template>

<style scoped>
.traces {
  position: relative;
  height: 100%;
  min-height: 0;
}
.sheet {
  position: absolute;
  inset: 0;
}
canvas {
  position: absolute;
  width: 100%;
  height: 100%;
}
.names {
  position: absolute;
  inset: 0;
  margin: 0;
  padding: 0;
  list-style: none;
  display: grid;
  grid-auto-rows: 1fr;
  z-index: 1;
  pointer-events: none;
}
.names li {
  padding: 5px 0 0 90px;
  font-size: 14px;
}
.names span {
  background: var(--work);
  padding: 0 5px;
}
</style>
