<script setup lang="ts">
import { ElButton, ElInput, ElMessage } from 'element-plus'

/** A link that is told once: it is for one person, one use, two days. */
const props = defineProps<{ name: string; address: string }>()
defineEmits<{ close: [] }>()

async function copy() {
  try {
    await navigator.clipboard.writeText(props.address)
    ElMessage({ message: 'Copied', type: 'success' })
  } catch {
    ElMessage({ message: 'The browser does not let it be copied: select it by hand.', type: 'warning' })
  }
}
</script>

<template>
  <section class="link" role="status">
    <h2>Give this to {{ name }}, now</h2>
    <p>Whoever opens it chooses the password. It works once, for 48 hours, and is not shown again.</p>
    <div class="row">
      <el-input :model-value="address" readonly aria-label="One-time link" data-test="one-time-link" />
      <el-button type="primary" @click="copy">Copy</el-button>
      <el-button @click="$emit('close')">Done</el-button>
    </div>
  </section>
</template>

<style scoped>
.link {
  border-left: 5px solid var(--ink);
  background: var(--bench);
  padding: 12px 16px;
  margin-bottom: 20px;
}
.row {
  display: flex;
  gap: 8px;
  margin-top: 8px;
}
</style>
