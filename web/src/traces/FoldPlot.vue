<script setup lang="ts">
import { useElementSize, useMutationObserver } from '@vueuse/core'
import { onBeforeUnmount, onMounted, useTemplateRef, watch } from 'vue'
import { ticks, usePanel } from './picture'
import { cssVariable } from '@/shared/cssVariable'

/** Lines over a stretch of crank angle on one scale. A line holds lows and highs in turn, or single values. */
export interface Line {
  values: Float32Array
  pairs: boolean
  tone: 'plain' | 'faint' | 'picked' | 'computed'
  /** From where to where it lies, where that is not the whole picture: cylinders may fire unevenly. */
  span?: readonly [number, number]
}
const props = defineProps<{
  lines: readonly Line[]
  band?: { low: Float32Array; high: Float32Array } | undefined
  reach: readonly [number, number]
  fromDeg: number
  toDeg: number
  /** Vertical rules with words under them. */
  rules: readonly { at: number; words: string }[]
  label: string
  height: number
  /** Crank angles of the cursors. */
  cursors?: readonly (number | null)[]
  /** Whether the foot counts the degrees, between the words of the rules. */
  scale?: boolean
}>()
const emit = defineEmits<{ point: [degrees: number] }>()

const LEFT = 62
const FOOT = 24
const host = useTemplateRef<HTMLDivElement>('host')
const canvas = useTemplateRef<HTMLCanvasElement>('canvas')
const { width } = useElementSize(host)
let wanted = 0

function draw() {
  wanted = 0
  const sheet = canvas.value
  const context = sheet?.getContext('2d')
  if (!sheet || !context || width.value < 10) return
  const dense = window.devicePixelRatio || 1
  sheet.width = Math.round(width.value * dense)
  sheet.height = Math.round(props.height * dense)
  context.setTransform(dense, 0, 0, dense, 0, 0)
  context.clearRect(0, 0, width.value, props.height)
  const across = width.value - LEFT - 4
  const tall = props.height - FOOT
  const [low, high] = props.reach
  const y = (v: number) => 2 + (tall - 4) * (1 - (v - low) / (high - low))
  const x = (deg: number) => LEFT + (across * (deg - props.fromDeg)) / (props.toDeg - props.fromDeg)
  context.strokeStyle = cssVariable('--rule')
  context.strokeRect(LEFT + 0.5, 0.5, across, tall)
  context.font = '14px "Atkinson Hyperlegible Mono"'
  context.fillStyle = cssVariable('--ink-soft')
  context.textAlign = 'right'
  context.fillText(high.toPrecision(3), LEFT - 6, 14)
  context.fillText(low.toPrecision(3), LEFT - 6, tall - 2)
  if (props.scale) {
    context.textAlign = 'center'
    const taken = props.rules.map((rule) => x(rule.at))
    for (const tick of ticks(props.fromDeg, props.toDeg)) {
      const at = x(tick)
      if (taken.some((t) => at > t - 30 && at < t + 90) || at > LEFT + across - 20) continue
      context.strokeRect(at, tall, 0, 5)
      context.fillText(`${tick}°`, at, props.height - 4)
    }
  }
  context.textAlign = 'left'
  for (const rule of props.rules) {
    context.beginPath()
    context.moveTo(x(rule.at), 0)
    context.lineTo(x(rule.at), tall + 6)
    context.stroke()
    // Words that would run out of the picture stand before their rule.
    const outside = x(rule.at) + 4 + context.measureText(rule.words).width > LEFT + across
    context.textAlign = outside ? 'right' : 'left'
    context.fillText(rule.words, x(rule.at) + (outside ? -4 : 4), props.height - 6)
  }
  context.textAlign = 'left'
  context.save()
  context.beginPath()
  context.rect(LEFT, 0, across, tall)
  context.clip()
  if (props.band) {
    const { low: under, high: over } = props.band
    context.fillStyle = cssVariable('--spread')
    context.beginPath()
    over.forEach((v, i) => context.lineTo(LEFT + (across * (i + 0.5)) / over.length, y(v)))
    for (let i = under.length - 1; i >= 0; i--)
      context.lineTo(LEFT + (across * (i + 0.5)) / under.length, y(under[i]!))
    context.fill()
  }
  for (const tone of ['faint', 'computed', 'plain', 'picked'] as const) {
    context.setLineDash(tone === 'computed' ? [7, 5] : [])
    context.strokeStyle =
      tone === 'picked'
        ? cssVariable('--alarm')
        : tone === 'computed'
          ? cssVariable('--ink')
          : cssVariable('--trace')
    context.globalAlpha = tone === 'faint' ? 0.28 : 1
    context.lineWidth = tone === 'faint' ? 1 : 1.6
    for (const line of props.lines) {
      if (line.tone !== tone) continue
      const columns = line.pairs ? line.values.length / 2 : line.values.length
      const [from, to] = line.span ?? [props.fromDeg, props.toDeg]
      let last = line.values[0] ?? 0
      context.beginPath()
      for (let i = 0; i < columns; i++) {
        const at = x(from + ((to - from) * (i + 0.5)) / columns)
        if (line.pairs) {
          const [low, high] = [line.values[2 * i]!, line.values[2 * i + 1]!]
          const falling = Math.abs(last - high) < Math.abs(last - low) // or a slope would look like a saw
          context.lineTo(at, y(falling ? high : low))
          context.lineTo(at, y(falling ? low : high))
          last = falling ? low : high
        } else context.lineTo(at, y(line.values[i]!))
      }
      context.stroke()
    }
  }
  context.restore()
  context.globalAlpha = 1
  context.fillStyle = cssVariable('--ink')
  context.font = '700 15px "Atkinson Hyperlegible Next"'
  ;(props.cursors ?? []).forEach((cursor, i) => {
    if (cursor === null) return
    context.fillRect(x(cursor) - 1, 0, 2, tall)
    context.fillText('AB'[i]!, x(cursor) + 5, 15)
  })
}
function point(event: MouseEvent) {
  const box = host.value!.getBoundingClientRect()
  const share = (event.clientX - box.left - LEFT) / (box.width - LEFT - 4)
  if (share >= 0 && share <= 1) emit('point', props.fromDeg + share * (props.toDeg - props.fromDeg))
}
usePanel(() => ({
  title: props.label,
  across: [props.fromDeg, props.toDeg],
  acrossUnit: '°',
  up: props.reach,
  height: props.height,
  rules: [
    ...props.rules,
    ...(props.cursors ?? []).map((at, i) => ({ at: at ?? Number.NaN, words: 'AB'[i]! })),
  ],
  lines: [
    ...props.lines.map((line) => ({ x: anglesOf(line), y: line.values, tone: line.tone })),
    ...(props.band ? [props.band.low, props.band.high] : []).map((values) => ({
      x: anglesOf({ values, pairs: false, tone: 'faint' }),
      y: values,
      tone: 'faint' as const,
    })),
  ],
}))
function anglesOf(line: Line): Float64Array {
  const columns = line.pairs ? line.values.length / 2 : line.values.length
  const [from, to] = line.span ?? [props.fromDeg, props.toDeg]
  const wide = (to - from) / columns
  return Float64Array.from(line.values, (_, i) => from + wide * ((line.pairs ? i >> 1 : i) + 0.5))
}
function soon() {
  if (!wanted) wanted = requestAnimationFrame(draw)
}
onMounted(soon)
watch(
  [() => props.lines, () => props.band, () => props.reach, () => props.rules, () => props.cursors, width],
  soon,
)
useMutationObserver(document.documentElement, soon, { attributes: true, attributeFilter: ['data-bay'] })
onBeforeUnmount(() => cancelAnimationFrame(wanted))
</script>

<template>
  <div
    ref="host"
    class="fold"
    role="img"
    :aria-label="label"
    :style="{ height: `${height}px` }"
    :data-lines="lines.length"
    :data-low="reach[0]"
    :data-high="reach[1]"
    data-test="fold"
    @click="point"
  >
    <canvas ref="canvas"></canvas>
  </div>
</template>

<style scoped>
.fold {
  position: relative;
  width: 100%;
}
canvas {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
}
</style>
