<script setup lang="ts">
import { ElButton } from 'element-plus'
import type { Problem } from '@/api/problems'

/** What went wrong and how to go on; nothing while all is well. */
defineProps<{ problem: Problem | null; retry?: () => void }>()
</script>

<template>
  <div v-if="problem" class="problem" role="alert">
    <p>{{ problem.sentence }}</p>
    <el-button v-if="retry" @click="retry">Try again</el-button>
  </div>
</template>

<style scoped>
.problem {
  border-left: 5px solid var(--alarm);
  background: var(--stripe);
  padding: 10px 14px;
  margin: 10px 0;
  overflow-wrap: anywhere;
}
.problem .el-button {
  margin-top: 8px;
}
</style>
