<script setup lang="ts">
import { ElButton, ElMessageBox } from 'element-plus'
import { ref } from 'vue'
import { client, unwrap } from '@/api/client'
import { toProblem, type Problem } from '@/api/problems'
import ProblemNote from '@/shared/ProblemNote.vue'
import type { Capture } from './useTraces'

/** Whether this capture is what the shop holds up to others of the same engine. */
const props = defineProps<{ capture: Capture }>()
const emit = defineEmits<{ changed: [] }>()
const problem = ref<Problem | null>(null)
const path = () => ({ capture_id: props.capture.id })

async function hold() {
  const asked = await ElMessageBox.prompt(
    'Why is it good? Cam edges and valve events of the next engines of this name are judged by it.',
    'Hold as known good',
    {
      confirmButtonText: 'Hold as known good',
      cancelButtonText: 'Leave it',
      inputPlaceholder: 'After the repair, runs evenly',
      inputPattern: /\S/,
      inputErrorMessage: 'Say why, in a few words.',
    },
  ).catch(() => null)
  if (!asked) return
  await change(
    client.POST('/api/captures/{capture_id}/known-good/', {
      params: { path: path() },
      body: { why: asked.value },
    }),
  )
}
const drop = () =>
  change(client.DELETE('/api/captures/{capture_id}/known-good/', { params: { path: path() } }))

async function change(call: Parameters<typeof unwrap>[0]) {
  problem.value = null
  try {
    await unwrap(call)
    emit('changed')
  } catch (fault) {
    problem.value = toProblem(fault)
  }
}
</script>

<template>
  <div class="known">
    <problem-note :problem="problem" />
    <span v-if="capture.known_good" data-test="known-good"
      ><strong>Known good:</strong> {{ capture.known_good }}</span
    >
    <el-button v-if="capture.may_mark && capture.known_good" data-test="drop-known-good" @click="drop"
      >No longer</el-button
    >
    <el-button v-else-if="capture.may_mark" data-test="hold-known-good" @click="hold"
      >Hold as known good</el-button
    >
  </div>
</template>

<style scoped>
.known {
  display: flex;
  align-items: center;
  gap: 10px;
}
</style>
