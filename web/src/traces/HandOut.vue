<script setup lang="ts">
import { ElButton, ElDropdown, ElDropdownItem, ElDropdownMenu, ElMessage } from 'element-plus'
import { computed } from 'vue'
import { whenInWords, words } from '@/shared/words'
import { asPng, asSvg, handOver, type Panel } from './picture'
import type { Capture, View } from './useTraces'

/** Hands out what is shown: the picture, and of a strip the samples too. */
const props = defineProps<{
  capture: Capture
  /** How it is looked at: a strip can be handed out as samples, too. */
  look: string
  view: View
  panels: () => Panel[]
}>()
const PICTURES = [
  { kind: 'png', words: 'Picture (PNG)', loses: '' },
  { kind: 'svg', words: 'Picture (SVG)', loses: '' },
]
const offered = computed(() => (props.look === 'strip' ? [...PICTURES, ...words.exports] : PICTURES))
async function picture(kind: string) {
  const held = props.capture
  const about = `${held.case_title}. Kept by ${held.kept_by}, ${whenInWords(held.kept_at)}.`
  const svg = asSvg(props.panels(), held.name, about)
  const name = `capture-${held.id}-${props.look}`
  try {
    if (kind === 'svg') handOver(new Blob([svg], { type: 'image/svg+xml' }), `${name}.svg`)
    else handOver(await asPng(svg), `${name}.png`)
  } catch (fault) {
    ElMessage({ message: String(fault), type: 'error' })
  }
}
function handOut(kind: string) {
  if (PICTURES.some((p) => p.kind === kind)) return void picture(kind)
  const { from, to } = props.view.stretch.value
  location.assign(`/api/captures/${props.capture.id}/export/?kind=${kind}&from_s=${from}&to_s=${to + 1e-9}`)
}
</script>

<template>
  <el-dropdown trigger="click" placement="bottom-end" @command="handOut">
    <el-button data-test="export">Export what is shown</el-button>
    <template #dropdown>
      <el-dropdown-menu>
        <el-dropdown-item v-for="e in offered" :key="e.kind" :command="e.kind"
          >{{ e.words }}<span v-if="e.loses" class="small soft loses">{{ e.loses }}</span></el-dropdown-item
        >
      </el-dropdown-menu>
    </template>
  </el-dropdown>
</template>

<style scoped>
.loses {
  margin-left: 8px;
}
</style>
