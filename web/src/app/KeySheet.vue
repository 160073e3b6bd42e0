<script setup lang="ts">
import { ElButton, ElCheckbox, ElDialog } from 'element-plus'
import { explaining } from '@/shared/tradeWords'
import { HINTS, keysOn } from './keys'

/** All keys on one sheet, to be switched off where they fire unasked. */
const open = defineModel<boolean>({ required: true })
</script>

<template>
  <el-dialog v-model="open" title="Keys and words" width="min(760px, 94vw)" top="24px">
    <el-checkbox v-model="keysOn" data-test="keys-on">Keys are on</el-checkbox>
    <el-checkbox v-model="explaining" data-test="explaining"
      >Words of the trade say what they mean</el-checkbox
    >
    <dl class="keys">
      <div v-for="hint in HINTS" :key="hint.keys">
        <dt>
          <span class="keycap">{{ hint.keys }}</span>
        </dt>
        <dd>{{ hint.does }}</dd>
      </div>
    </dl>
    <p class="soft small">Keys never fire while you type.</p>
    <p class="small"><a href="/licences.txt" target="_blank">What this is made of, and its licences</a></p>
    <template #footer><el-button @click="open = false">Close</el-button></template>
  </el-dialog>
</template>

<style scoped>
.keys {
  columns: 300px 2;
  column-gap: 26px;
  margin: 0 0 12px;
}
.keys div {
  display: grid;
  grid-template-columns: 96px 1fr;
  gap: 8px;
  padding: 3px 0;
  break-inside: avoid;
}
.keys dd {
  margin: 0;
}
</style>
