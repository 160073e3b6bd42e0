<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, ref, watch } from 'vue'
import type { Schemas } from '@/api/client'
import type { Problem } from '@/api/problems'
import ProblemNote from '@/shared/ProblemNote.vue'
import { words } from '@/shared/words'
import CylinderPicker from './CylinderPicker.vue'
import type { Board } from './useBoard'

/** What was really found, kept for good beside what the program says now. */
const props = defineProps<{
  board: Board
  refusal: Problem | null
  record: (found: Schemas['FoundRequest']) => Promise<boolean>
}>()
const shown = defineModel<boolean>({ required: true })

const fault = ref('')
const found = ref('')
const seenBy = ref('')
const lesson = ref('')
const cylinders = ref<number[]>([])
const ready = computed(() => found.value.trim() !== '' && seenBy.value.trim() !== '')
watch(shown, (now) => {
  if (!now) return
  fault.value = props.board.verdict.faults[0] ?? ''
  found.value = fault.value ? (words.faults[fault.value] ?? '') : ''
  cylinders.value = [...props.board.verdict.cylinders]
  seenBy.value = ''
  lesson.value = ''
})
function choose(id: string) {
  if (!found.value.trim() || Object.values(words.faults).includes(found.value))
    found.value = words.faults[id] ?? ''
}
async function keep() {
  const kept = await props.record({
    fault: fault.value,
    found: found.value,
    seen_by: seenBy.value,
    lesson: lesson.value,
    cylinders: cylinders.value,
  })
  if (kept) shown.value = false
}
</script>

<template>
  <el-dialog v-model="shown" title="What was really found" width="600px">
    <form class="work" @submit.prevent="keep">
      <label>
        <span>Fault, if it is one of these</span>
        <el-select
          v-model="fault"
          filterable
          clearable
          aria-label="Fault"
          data-test="found-fault"
          @change="choose"
        >
          <el-option v-for="(word, id) in words.faults" :key="id" :value="String(id)" :label="word" />
        </el-select>
      </label>
      <label>
        <span>In your words</span>
        <el-input v-model="found" maxlength="300" data-test="found-words" />
      </label>
      <div>
        <span>At which cylinders</span>
        <cylinder-picker v-model="cylinders" :order="board.case.engine.firing_order" label="Cylinders" />
      </div>
      <label>
        <span>Seen by which sight or measurement</span>
        <el-input v-model="seenBy" maxlength="200" data-test="found-by" />
      </label>
      <label>
        <span>What misled, if the statement was wrong</span>
        <el-input v-model="lesson" maxlength="500" type="textarea" :rows="2" data-test="found-lesson" />
      </label>
      <problem-note :problem="refusal" />
      <el-button type="primary" native-type="submit" :disabled="!ready" data-test="found-keep"
        >Keep it</el-button
      >
    </form>
  </el-dialog>
</template>

<style scoped src="./dialog.css"></style>
