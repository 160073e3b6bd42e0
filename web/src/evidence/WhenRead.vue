<script setup lang="ts">
import ConditionsPicker from '@/shared/ConditionsPicker.vue'
import type { Conditions } from '@/shared/conditions'

/** Under which conditions a form was read; what the form asks itself is not asked twice. */
defineProps<{ asked: readonly string[]; open: boolean | undefined }>()
const conditions = defineModel<Conditions>({ required: true })
</script>

<template>
  <details :open="open">
    <summary>When it was read</summary>
    <conditions-picker v-model="conditions" label="When it was read" :asked="asked" asks-happened />
  </details>
</template>

<style scoped>
summary {
  line-height: 44px;
}
</style>
