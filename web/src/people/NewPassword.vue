<script setup lang="ts">
import { ElFormItem, ElInput } from 'element-plus'
import { PASSWORD_LETTERS_MIN } from './rules'

/** A password being chosen, with what is asked of it. */
const password = defineModel<string>({ required: true })
defineProps<{ id: string; label: string }>()
</script>

<template>
  <el-form-item :label="`${label}, ${PASSWORD_LETTERS_MIN} letters or more`" :for="id">
    <el-input :id="id" v-model="password" type="password" show-password autocomplete="new-password" />
  </el-form-item>
</template>
