<script setup lang="ts">
import { ElButton, ElDialog, ElInput } from 'element-plus'
import { computed, ref, watch } from 'vue'
import type { Schemas } from '@/api/client'
import CylinderPicker from '@/board/CylinderPicker.vue'
import MarkLayer from './MarkLayer.vue'
import { placeOn, stroke, TOOLS, type Mark, type Place, type Tool } from './marks'

/** A picture in full, and what is drawn on top of it: the picture itself is never touched. */
const props = defineProps<{
  picture: Schemas['Picture'] | null
  cylinders: readonly number[]
  may: boolean
  keep: (id: number, marks: Mark[]) => Promise<boolean>
}>()
const emit = defineEmits<{ closed: [] }>()
const tool = ref<Tool>('arrow')
const said = ref('')
const at = ref<number[]>([])
const marks = ref<Mark[]>([])
const from = ref<Place | null>(null)
const to = ref<Place | null>(null)
watch(
  () => props.picture,
  (picture) => (marks.value = (picture?.marks ?? []).map((mark) => ({ ...mark }))),
)
const draft = computed(() =>
  from.value && to.value && (tool.value === 'arrow' || tool.value === 'ring')
    ? stroke(tool.value, from.value, to.value)
    : null,
)
const shown = computed(() => (draft.value ? [...marks.value, draft.value] : marks.value))

function place(event: PointerEvent) {
  return placeOn((event.currentTarget as HTMLElement).getBoundingClientRect(), event)
}
function press(event: PointerEvent) {
  if (!props.may) return
  const here = place(event)
  if (tool.value === 'words') {
    if (said.value.trim())
      marks.value = [...marks.value, { kind: 'words', ...here, words: said.value.trim() }]
  } else if (tool.value === 'cylinder') {
    if (at.value[0]) marks.value = [...marks.value, { kind: 'cylinder', ...here, cylinder: at.value[0] }]
  } else {
    ;(event.currentTarget as HTMLElement).setPointerCapture(event.pointerId)
    from.value = to.value = here
  }
}
function lift() {
  if (draft.value) marks.value = [...marks.value, draft.value]
  from.value = to.value = null
}
async function send() {
  if (props.picture && (await props.keep(props.picture.id, marks.value))) emit('closed')
}
</script>

<template>
  <el-dialog
    :model-value="picture !== null"
    :title="picture?.words || 'Picture'"
    width="min(1100px, 94vw)"
    top="16px"
    @close="emit('closed')"
  >
    <template v-if="picture">
      <div v-if="may" class="tools" role="group" aria-label="Draw">
        <button
          v-for="(word, key) in TOOLS"
          :key="key"
          type="button"
          :aria-pressed="tool === key"
          :data-test="`tool-${key}`"
          @click="tool = key"
        >
          {{ word }}
        </button>
        <el-input
          v-if="tool === 'words'"
          v-model="said"
          maxlength="80"
          placeholder="What it says, then touch where"
          aria-label="Words"
          data-test="mark-words"
        />
        <cylinder-picker
          v-if="tool === 'cylinder'"
          :model-value="at"
          :order="cylinders"
          label="Cylinder"
          @update:model-value="(picked) => (at = picked.slice(-1))"
        />
        <el-button :disabled="!marks.length" data-test="mark-undo" @click="marks = marks.slice(0, -1)"
          >Take the last away</el-button
        >
      </div>
      <div
        class="picture"
        data-test="picture"
        :style="{ aspectRatio: `${picture.width} / ${picture.height}` }"
        @pointerdown.prevent="press"
        @pointermove="(event) => from && (to = place(event))"
        @pointerup="lift"
        @pointercancel="from = to = null"
      >
        <img :src="`/api/pictures/${picture.id}/file/`" :alt="picture.words || 'Picture'" draggable="false" />
        <mark-layer :marks="shown" :width="picture.width" :height="picture.height" />
      </div>
    </template>
    <template #footer>
      <span class="small soft hash">{{ picture?.sha256.slice(0, 16) }}</span>
      <el-button @click="emit('closed')">Close</el-button>
      <el-button v-if="may" type="primary" data-test="marks-keep" @click="send">Keep what is drawn</el-button>
    </template>
  </el-dialog>
</template>

<style scoped>
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
  margin-bottom: 8px;
}
.tools > button {
  min-height: 48px;
  padding: 0 16px;
  border: 1px solid var(--ink);
  background: var(--work);
  color: inherit;
  font: inherit;
  cursor: pointer;
}
.tools > button[aria-pressed='true'] {
  background: var(--ink);
  color: var(--work);
}
.tools .el-input {
  flex: 1;
}
.picture {
  position: relative;
  max-height: 62vh;
  margin: 0 auto;
  touch-action: none;
}
.picture img {
  display: block;
  width: 100%;
  height: 100%;
}
.hash {
  padding-right: 12px;
  margin-right: auto;
  font-family: var(--number, monospace);
}
</style>
