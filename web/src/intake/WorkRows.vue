<script setup lang="ts">
import { ElButton, ElInput, ElOption, ElSelect } from 'element-plus'
import type { Schemas } from '@/api/client'
import CylinderPicker from '@/board/CylinderPicker.vue'
import { words } from '@/shared/words'

/** Work already done, row by row: which part, at which cylinders, what was fitted, whether it changed anything. */
defineProps<{ order: readonly number[] }>()
const rows = defineModel<Schemas['WorkDoneRequest'][]>({ required: true })

const add = () =>
  (rows.value = [
    ...rows.value,
    { part: '', cylinders: [], fitted: 'new', helped: null, by: '', when: '', words: '' },
  ])
const drop = (at: number) => (rows.value = rows.value.filter((_, i) => i !== at))
</script>

<template>
  <div class="rows">
    <fieldset v-for="(row, i) in rows" :key="i" :data-test="`work-${i}`">
      <div class="line">
        <el-select v-model="row.part" placeholder="Part" aria-label="Part" :data-test="`work-${i}-part`">
          <el-option v-for="(word, id) in words.parts" :key="id" :value="String(id)" :label="word" />
        </el-select>
        <el-select v-model="row.fitted" aria-label="Fitted">
          <el-option v-for="(word, id) in words.fitted" :key="id" :value="String(id)" :label="word" />
        </el-select>
        <el-select v-model="row.helped" aria-label="Did it change anything?" placeholder="Helped?">
          <el-option :value="false" label="no change" />
          <el-option :value="true" label="it changed something" />
        </el-select>
      </div>
      <div v-if="row.part" class="line at">
        <cylinder-picker v-model="row.cylinders!" :order="order" label="Cylinders, none for all" />
        <span class="small soft">{{ row.cylinders?.length ? '' : 'none: all of them' }}</span>
      </div>
      <div class="line">
        <el-input
          v-model="row.words"
          maxlength="300"
          aria-label="In words"
          placeholder="by whom, when, what else"
        />
        <el-button link @click="drop(i)">Remove</el-button>
      </div>
    </fieldset>
    <el-button data-test="work-add" @click="add">Add what was done</el-button>
  </div>
</template>

<style scoped>
.rows {
  display: grid;
  gap: 10px;
  width: 100%;
}
fieldset {
  border: 0;
  border-left: 3px solid var(--rule);
  margin: 0;
  padding: 0 0 0 10px;
  display: grid;
  gap: 6px;
}
.line {
  display: flex;
  gap: 6px;
}
.at {
  align-items: center;
}
.line > .el-select {
  flex: 1;
}
.rows > .el-button {
  justify-self: start;
}
</style>
