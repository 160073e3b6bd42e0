<script setup lang="ts">
import { ElButton } from 'element-plus'
import { useIntervalFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import FileLines from './FileLines.vue'
import { cancelled, doing, underWay, type FileImport } from './staging'

/** Files of this case that are not kept yet: of others, of another tab, or left behind. */
const props = defineProps<{ caseId: number; own: number | null }>()
const emit = defineEmits<{ resume: [file: FileImport] }>()

const LOOK_MS = 2000
const files = ref<FileImport[]>([])
const others = computed(() =>
  files.value.filter((f) => f.id !== props.own).map((f) => ({ ...f, name: String(f.id) })),
)
async function look() {
  files.value = await underWay(props.caseId).catch(() => [])
}
const { pause, resume } = useIntervalFn(look, LOOK_MS, { immediate: false })
watch(
  () => [props.caseId, props.own],
  () => void look(),
  { immediate: true },
)
watch(others, (now) => (now.length ? resume() : pause()))

const goesOn = (f: FileImport) => f.own && ['arrived', 'refused'].includes(f.state)
async function cancel(f: FileImport) {
  await cancelled(f.id).catch(() => null)
  await look()
}
</script>

<template>
  <file-lines v-if="others.length" title="Not kept yet" :files="others" data-test="under-way">
    <template #default="{ file }">
      <span
        ><strong>{{ file.file_name }}</strong> <span v-if="!file.own">of {{ file.by }}</span>
        {{ doing(file) }}</span
      >
    </template>
    <template #after="{ file }">
      <el-button v-if="goesOn(file)" :data-test="`resume-${file.id}`" @click="emit('resume', file)"
        >Go on</el-button
      >
      <el-button v-if="file.may_cancel" :data-test="`cancel-${file.id}`" @click="cancel(file)"
        >Cancel</el-button
      >
    </template>
  </file-lines>
</template>
