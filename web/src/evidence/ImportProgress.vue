<script setup lang="ts">
import { ElButton, ElProgress } from 'element-plus'

/** How far a file is, in words and as a bar, with a way to take it back. */
defineProps<{ share: number; words: string }>()
const emit = defineEmits<{ cancel: [] }>()
</script>

<template>
  <div class="way" role="status" data-test="import-progress">
    <span>The file {{ words || 'is announced' }}</span>
    <el-progress :percentage="Math.round(100 * share)" :stroke-width="14" :show-text="false" />
    <el-button data-test="cancel-import" @click="emit('cancel')">Cancel</el-button>
  </div>
</template>

<style scoped>
.way {
  display: grid;
  grid-template-columns: minmax(14rem, auto) minmax(8rem, 24rem) auto;
  gap: 16px;
  align-items: center;
  justify-content: start;
  margin: 12px 0;
}
</style>
