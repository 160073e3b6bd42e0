<script setup lang="ts">
import { ElButton } from 'element-plus'
import type { Schemas } from '@/api/client'
import { labourOf } from './labour'

/** Labour on this visit beside what the owner agreed to, and the own clock. */
defineProps<{ visit: Schemas['Visit']; may: boolean }>()
const emit = defineEmits<{ turn: [running: boolean] }>()
</script>

<template>
  <div class="labour" data-test="labour" :data-minutes="visit.labour_minutes">
    <span class="number">{{ labourOf(visit) }}</span>
    <span v-if="visit.working.length" class="small soft">{{ visit.working.join(', ') }} at work</span>
    <strong v-if="visit.ceiling_words" class="alarm small" role="status" data-test="ceiling">{{
      visit.ceiling_words
    }}</strong>
    <el-button v-if="may" data-test="clock" @click="emit('turn', !visit.own_clock)">{{
      visit.own_clock ? 'Stop my clock' : 'Start my clock'
    }}</el-button>
  </div>
</template>

<style scoped>
.labour {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: center;
}
.el-button {
  min-height: 44px;
}
</style>
