<script setup lang="ts">
import { ElFormItem, ElInput } from 'element-plus'
import { CODE_DIGITS } from './rules'

/** The digits a shared tablet changes hands by. */
const code = defineModel<string>({ required: true })
defineProps<{ id: string; label: string }>()
</script>

<template>
  <el-form-item :label="label" :for="id">
    <el-input
      :id="id"
      v-model="code"
      type="password"
      inputmode="numeric"
      :maxlength="CODE_DIGITS"
      autocomplete="off"
    />
  </el-form-item>
</template>
