<script setup lang="ts">
import { useElementSize, useMutationObserver } from '@vueuse/core'
import { onBeforeUnmount, onMounted, useTemplateRef, watch } from 'vue'

/** Lines over a stretch of crank angle on one scale. A line holds lows and highs in turn, or single values. */
export interface Line {
  values: Float32Array
  pairs: boolean
  tone: 'plain' | 'faint' | 'picked'
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
}>()

const LEFT = 62
const FOOT = 24
const host = useTemplateRef<HTMLDivElement>('host')
const canvas = useTemplateRef<HTMLCanvasElement>('canvas')
const { width } = useElementSize(host)
const ink = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim()
let wanted = 0

function draw() {
  wanted = 0
  const sheet = canvas.value
  const pen = sheet?.getContext('2d')
  if (!sheet || !pen || width.value < 10) return
  const dense = window.devicePixelRatio || 1
  sheet.width = Math.round(width.value * dense)
  sheet.height = Math.round(props.height * dense)
  pen.setTransform(dense, 0, 0, dense, 0, 0)
  pen.clearRect(0, 0, width.value, props.height)
  const across = width.value - LEFT - 4
  const tall = props.height - FOOT
  const [low, high] = props.reach
  const y = (v: number) => 2 + (tall - 4) * (1 - (v - low) / (high - low))
  const x = (deg: number) => LEFT + (across * (deg - props.fromDeg)) / (props.toDeg - props.fromDeg)
  pen.strokeStyle = ink('--rule')
  pen.strokeRect(LEFT + 0.5, 0.5, across, tall)
  pen.font = '14px "Atkinson Hyperlegible Mono"'
  pen.fillStyle = ink('--ink-soft')
  pen.textAlign = 'right'
  pen.fillText(high.toPrecision(3), LEFT - 6, 14)
  pen.fillText(low.toPrecision(3), LEFT - 6, tall - 2)
  pen.textAlign = 'left'
  for (const rule of props.rules) {
    pen.beginPath()
    pen.moveTo(x(rule.at), 0)
    pen.lineTo(x(rule.at), tall + 6)
    pen.stroke()
    pen.fillText(rule.words, x(rule.at) + 4, props.height - 6)
  }
  if (props.band) {
    const { low: under, high: over } = props.band
    pen.fillStyle = ink('--spread')
    pen.beginPath()
    over.forEach((v, i) => pen.lineTo(LEFT + (across * (i + 0.5)) / over.length, y(v)))
    for (let i = under.length - 1; i >= 0; i--)
      pen.lineTo(LEFT + (across * (i + 0.5)) / under.length, y(under[i]!))
    pen.fill()
  }
  for (const tone of ['faint', 'plain', 'picked'] as const) {
    pen.strokeStyle = tone === 'picked' ? ink('--alarm') : ink('--trace')
    pen.globalAlpha = tone === 'faint' ? 0.28 : 1
    pen.lineWidth = tone === 'faint' ? 1 : 1.6
    for (const line of props.lines) {
      if (line.tone !== tone) continue
      const columns = line.pairs ? line.values.length / 2 : line.values.length
      let last = line.values[0] ?? 0
      pen.beginPath()
      for (let i = 0; i < columns; i++) {
        const at = LEFT + (across * (i + 0.5)) / columns
        if (line.pairs) {
          const [low, high] = [line.values[2 * i]!, line.values[2 * i + 1]!]
          const falling = Math.abs(last - high) < Math.abs(last - low) // or a slope would look like a saw
          pen.lineTo(at, y(falling ? high : low))
          pen.lineTo(at, y(falling ? low : high))
          last = falling ? low : high
        } else pen.lineTo(at, y(line.values[i]!))
      }
      pen.stroke()
    }
  }
  pen.globalAlpha = 1
}
function soon() {
  if (!wanted) wanted = requestAnimationFrame(draw)
}
onMounted(soon)
watch([() => props.lines, () => props.band, () => props.reach, () => props.rules, width], soon)
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
