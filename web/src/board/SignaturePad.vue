<script setup lang="ts">
import { onMounted, ref } from 'vue'

/** A field to sign in with a finger or a pen; what was drawn is taken as a small picture. */
const WIDTH = 600
const HEIGHT = 160
const canvas = ref<HTMLCanvasElement | null>(null)
const drawn = defineModel<boolean>('drawn', { required: true })
let last: { x: number; y: number } | null = null

function pen() {
  return canvas.value?.getContext('2d') ?? null
}
function clear() {
  const ink = pen()
  if (!ink) return
  ink.fillStyle = '#fff'
  ink.fillRect(0, 0, WIDTH, HEIGHT)
  drawn.value = false
}
onMounted(clear)
function place(event: PointerEvent) {
  const box = (event.currentTarget as HTMLElement).getBoundingClientRect()
  return {
    x: ((event.clientX - box.left) / box.width) * WIDTH,
    y: ((event.clientY - box.top) / box.height) * HEIGHT,
  }
}
function press(event: PointerEvent) {
  ;(event.currentTarget as HTMLElement).setPointerCapture(event.pointerId)
  last = place(event)
}
function move(event: PointerEvent) {
  const ink = pen()
  if (!last || !ink) return
  const here = place(event)
  ink.strokeStyle = '#14202b'
  ink.lineWidth = 3
  ink.lineCap = 'round'
  ink.beginPath()
  ink.moveTo(last.x, last.y)
  ink.lineTo(here.x, here.y)
  ink.stroke()
  last = here
  drawn.value = true
}
/** What was drawn; null where nothing was. */
const taken = () =>
  new Promise<Blob | null>((done) =>
    drawn.value && canvas.value ? canvas.value.toBlob(done, 'image/png') : done(null),
  )
defineExpose({ taken, clear })
</script>

<template>
  <div class="pad">
    <canvas
      ref="canvas"
      :width="WIDTH"
      :height="HEIGHT"
      aria-label="Sign here"
      data-test="signature"
      @pointerdown.prevent="press"
      @pointermove="move"
      @pointerup="last = null"
      @pointercancel="last = null"
    ></canvas>
    <button type="button" class="quiet" :disabled="!drawn" @click="clear">Sign again</button>
  </div>
</template>

<style scoped>
canvas {
  display: block;
  width: 100%;
  height: auto;
  border: 1px solid var(--ink);
  background: #fff;
  touch-action: none;
}
</style>
