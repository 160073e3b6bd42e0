<script setup lang="ts">
import { ElButton } from 'element-plus'
import { useIntervalFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { cancelled, doing, underWay, type FileImport } from './staging'

/** Files of this case that are not kept yet: of others, of another tab, or left behind. */
const props = defineProps<{ caseId: number; own: number | null }>()
const emit = defineEmits<{ resume: [file: FileImport] }>()

const LOOK_MS = 2000
const files = ref<FileImport[]>([])
const others = computed(() => files.value.filter((f) => f.id !== props.own))
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
  <div v-if="others.length" data-test="under-way">
    <h3>Not kept yet</h3>
    <ul>
      <li v-for="f in others" :key="f.id">
        <span
          ><strong>{{ f.file_name }}</strong> <span v-if="!f.own">of {{ f.by }}</span> {{ doing(f) }}</span
        >
        <span class="small soft">{{ (f.size / 1e6).toFixed(1) }} MB</span>
        <el-button v-if="goesOn(f)" :data-test="`resume-${f.id}`" @click="emit('resume', f)">Go on</el-button>
        <el-button v-if="f.may_cancel" :data-test="`cancel-${f.id}`" @click="cancel(f)">Cancel</el-button>
      </li>
    </ul>
  </div>
</template>

<style scoped>
h3 {
  font-size: 1rem;
  margin: 12px 0 6px;
}
ul {
  list-style: none;
  padding: 0;
  margin: 0;
  display: grid;
  gap: 6px;
}
li {
  display: flex;
  gap: 12px;
  align-items: center;
}
</style>
