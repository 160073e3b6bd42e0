<script setup lang="ts">
import uPlot from 'uplot'
import 'uplot/dist/uPlot.min.css'
import { useElementSize, useMutationObserver } from '@vueuse/core'
import { computed, onBeforeUnmount, onMounted, shallowRef, useTemplateRef, watch } from 'vue'
import { usePanel } from './picture'
import { drawDense, isDense } from './denseColumns'
import { usePanZoom } from './usePanZoom'
import { eventsIn, type CylinderEvent, type Stroke } from './cylinderEvents'
import type { Drawn, Stretch, View } from './useTraces'
import { cssVariable } from '@/shared/cssVariable'

/** One channel over time in seconds. The only place that speaks to the plotting library. */
const props = defineProps<{
  drawn: Drawn | undefined
  /** What is shown, as a reference of its own: it changes many times a second, and only plots need to follow. */
  view: View
  label: string
  unit: string
  marks: readonly number[]
  /** Cylinders, written where they fire. */
  events?: readonly CylinderEvent[]
  /** Written above the trace where there is room for the word. */
  strokes?: readonly Stroke[]
  cursors?: readonly (number | null)[]
  height: number
  /** What was done to the trace, for a picture of it. */
  done?: string
}>()
const emit = defineEmits<{ zoom: [stretch: Stretch]; hover: [seconds: number | null] }>()

/** Whether what is drawn reaches over the stretch, or is still on its way. */
const covers = computed(() => {
  const { from, to } = props.view.stretch.value
  const times = props.drawn?.times
  if (!times?.length) return false
  const step = (to - from) / 20
  return times[0]! <= from + step && times[times.length - 1]! >= to - step
})
const host = useTemplateRef<HTMLDivElement>('host')
const { width } = useElementSize(host)
const plot = shallowRef<uPlot | null>(null)

/** Left free beside the word of a stroke, in pixels. */
const STROKE_ROOM = 12
const line = uPlot.paths.linear!()
function options(): uPlot.Options {
  const colours = {
    trace: cssVariable('--trace'),
    alarm: cssVariable('--alarm'),
    ink: cssVariable('--ink'),
    soft: cssVariable('--ink-soft'),
  } // asked for once, not per picture
  const axis = {
    stroke: cssVariable('--ink'),
    grid: { stroke: cssVariable('--rule-soft'), width: 1 },
    ticks: { stroke: cssVariable('--rule'), width: 1 },
    font: '14px "Atkinson Hyperlegible Mono"',
  }
  return {
    width: Math.max(width.value, 200),
    height: props.height,
    legend: { show: false },
    cursor: { drag: { x: true, y: false, setScale: false }, y: false },
    scales: { x: { time: false, range: () => [props.view.stretch.value.from, props.view.stretch.value.to] } },
    axes: [
      { ...axis, size: 34, space: 150, values: (_u, splits) => splits.map((s) => `${+s.toFixed(3)}`) },
      { ...axis, size: 68, space: 28 },
    ],
    series: [
      {},
      {
        paths: (u, ...rest) => (isDense(u) ? null : line(u, ...rest)),
        label: props.label,
        stroke: cssVariable('--trace'),
        width: 1.5,
        points: { show: false },
      },
    ],
    hooks: {
      setSelect: [
        (u) => {
          if (u.select.width < 4) return
          const from = u.posToVal(u.select.left, 'x')
          const to = u.posToVal(u.select.left + u.select.width, 'x')
          u.setSelect({ left: 0, top: 0, width: 0, height: 0 }, false)
          emit('zoom', { from, to })
        },
      ],
      setCursor: [(u) => emit('hover', u.cursor.idx == null ? null : u.posToVal(u.cursor.left ?? 0, 'x'))],
      draw: [
        (u) => {
          if (isDense(u)) drawDense(u, colours.trace)
          u.ctx.save()
          u.ctx.strokeStyle = colours.alarm
          u.ctx.setLineDash([6, 6])
          u.ctx.beginPath()
          for (const mark of props.marks) {
            if (mark < props.view.stretch.value.from || mark > props.view.stretch.value.to) continue
            const x = u.valToPos(mark, 'x', true)
            u.ctx.moveTo(x, u.bbox.top)
            u.ctx.lineTo(x, u.bbox.top + u.bbox.height)
          }
          u.ctx.stroke()
          u.ctx.setLineDash([])
          u.ctx.fillStyle = colours.soft
          u.ctx.font = '600 15px "Atkinson Hyperlegible Mono"'
          for (const { at, cylinder } of eventsIn(props.events ?? [], props.view.stretch.value)) {
            const x = u.valToPos(at, 'x', true)
            u.ctx.fillRect(x - 0.5, u.bbox.top, 1, 6)
            u.ctx.fillText(String(cylinder), x + 4, u.bbox.top + u.bbox.height - 5)
          }
          u.ctx.font = '500 13px "Atkinson Hyperlegible Next"'
          const shown = props.view.stretch.value
          for (const { from, to, words } of props.strokes ?? []) {
            if (to < shown.from || from > shown.to) continue
            const [left, right] = [u.valToPos(from, 'x', true), u.valToPos(to, 'x', true)]
            const free = right - left - u.ctx.measureText(words).width
            if (free < STROKE_ROOM) continue
            u.ctx.fillRect(left - 0.5, u.bbox.top, 1, 12)
            u.ctx.fillText(words, left + free / 2, u.bbox.top + 12)
          }
          u.ctx.fillStyle = u.ctx.strokeStyle = colours.ink
          u.ctx.font = '700 15px "Atkinson Hyperlegible Next"'
          ;(props.cursors ?? []).forEach((cursor, i) => {
            if (
              cursor === null ||
              cursor < props.view.stretch.value.from ||
              cursor > props.view.stretch.value.to
            )
              return
            const x = u.valToPos(cursor, 'x', true)
            u.ctx.fillRect(x - 1, u.bbox.top, 2, u.bbox.height)
            u.ctx.fillText(i === 0 ? 'A' : 'B', x + 5, u.bbox.top + 15)
          })
          u.ctx.restore()
        },
      ],
    },
  }
}
function build() {
  plot.value?.destroy()
  if (!host.value) return
  const data: uPlot.AlignedData = props.drawn ? [props.drawn.times, props.drawn.values] : [[], []]
  plot.value = new uPlot(options(), data, host.value)
}
onMounted(build)
watch(
  () => props.drawn,
  (now) => plot.value?.setData(now ? [now.times, now.values] : [[], []]),
)
watch(
  () => props.view.stretch.value,
  ({ from, to }) => plot.value?.setScale('x', { min: from, max: to }),
)
watch(
  () => [props.cursors, props.events, props.strokes],
  () => plot.value?.redraw(false),
)
usePanZoom(
  host,
  () => plot.value?.over.getBoundingClientRect() ?? null,
  () => props.view.stretch.value,
  (next) => emit('zoom', next),
)
usePanel(() => {
  const { min, max } = plot.value?.scales.y ?? {}
  if (!props.drawn || min == null || max == null) return null
  const cursors = (props.cursors ?? []).map((at, i) => ({ at: at ?? Number.NaN, words: 'AB'[i]! }))
  return {
    title: [`${props.label}, ${props.unit}`, props.done].filter(Boolean).join(', '),
    across: [props.view.stretch.value.from, props.view.stretch.value.to],
    acrossUnit: 's',
    up: [min, max],
    height: props.height,
    lines: [{ x: props.drawn.times, y: props.drawn.values, tone: 'plain' }],
    rules: [...props.marks.map((at) => ({ at, words: '' })), ...cursors],
  }
})
watch([width, () => props.height], ([w, height]) => w && plot.value?.setSize({ width: w, height }))
useMutationObserver(document.documentElement, build, { attributes: true, attributeFilter: ['data-bay'] })
onBeforeUnmount(() => plot.value?.destroy())
</script>

<template>
  <div
    ref="host"
    role="img"
    :aria-label="`${label} in ${unit}, ${view.stretch.value.from.toFixed(2)} to ${view.stretch.value.to.toFixed(2)} s`"
    :data-points="drawn?.values.length ?? 0"
    :data-covers="covers"
    data-test="trace"
    class="plot"
  ></div>
</template>

<style scoped>
.plot {
  touch-action: pan-y;
}
</style>
