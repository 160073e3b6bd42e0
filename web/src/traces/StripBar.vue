<script setup lang="ts">
import { ElButton, ElOption, ElSelect } from 'element-plus'
import { CORNERS } from './useDrawing'

/** What is done to the whole strip: cursors, cycles, closer, a filter, and whatever else is put at its end. */
defineProps<{ cycles: boolean }>()
const corner = defineModel<number>('corner', { required: true })
const emit = defineEmits<{ all: []; cursors: []; step: [by: number]; closer: [factor: number] }>()
</script>

<template>
  <div class="actions bar">
    <el-button @click="emit('all')">All of it</el-button>
    <el-button data-test="cursors" @click="emit('cursors')"
      >Cursors <span class="keycap">a</span> <span class="keycap">b</span></el-button
    >
    <el-button :disabled="!cycles" @click="emit('step', -1)">Back <span class="keycap">[</span></el-button>
    <el-button :disabled="!cycles" @click="emit('step', 1)">On <span class="keycap">]</span></el-button>
    <el-button @click="emit('closer', 0.5)"
      ><span class="visually-hidden">Closer</span><span class="keycap">+</span></el-button
    >
    <el-button @click="emit('closer', 2)"
      ><span class="visually-hidden">Wider</span><span class="keycap">-</span></el-button
    >
    <el-select v-model="corner" class="corner" aria-label="Low-pass filter" data-test="corner">
      <el-option
        v-for="c in CORNERS"
        :key="c"
        :value="c"
        :label="c ? `Below ${c.toLocaleString('en')} Hz` : 'No filter'"
      />
    </el-select>
    <slot />
  </div>
</template>

<style scoped>
.bar {
  margin-bottom: 10px;
}
.bar :deep(.el-button) {
  margin: 0;
  padding: 0 12px;
}
.bar .keycap {
  margin-left: 8px;
}
@media (max-width: 899px) {
  .bar {
    position: relative; /* holds what is hidden from sight, which else widens the page */
    flex-wrap: nowrap;
    overflow-x: auto;
  }
  .bar > :deep(*) {
    flex: none;
  }
}
.corner {
  width: 140px;
}
</style>
