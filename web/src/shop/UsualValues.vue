<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import type { Schemas } from '@/api/client'

/** What is usual on this engine, as the shop writes it down. */
const rows = defineModel<Schemas['UsualValue'][]>({ required: true })
</script>

<template>
  <section>
    <h3>Usual values</h3>
    <div v-for="(row, i) in rows" :key="i" class="row">
      <el-input v-model="row.words" placeholder="idle, hot" :aria-label="`Value ${i + 1}, of what`" />
      <el-input v-model="row.value" placeholder="750 rpm" :aria-label="`Value ${i + 1}`" />
    </div>
    <el-button data-test="add-usual" @click="rows = [...rows, { words: '', value: '' }]"
      >Add a value</el-button
    >
  </section>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: 2fr 1fr;
  gap: 10px;
  margin-bottom: 6px;
}
section {
  margin: 12px 0;
}
</style>
