<script setup lang="ts">
import {
  ElCheckboxButton,
  ElCheckboxGroup,
  ElFormItem,
  ElInput,
  ElInputNumber,
  ElRadioButton,
  ElRadioGroup,
} from 'element-plus'
import ConditionsPicker from '@/shared/ConditionsPicker.vue'
import { SYMPTOMS } from '@/shared/symptoms'
import { words } from '@/shared/words'
import type { Job } from './job'
import WorkRows from './WorkRows.vue'

/** What was said of the vehicle: asked when a case is opened, and mended afterwards. */
defineProps<{ order: readonly number[] }>()
const job = defineModel<Job>({ required: true })
</script>

<template>
  <div>
    <el-form-item label="Complaint, in the driver's words" for="complaint">
      <el-input id="complaint" v-model="job.complaint" type="textarea" :rows="2" />
    </el-form-item>
    <el-form-item label="What it does">
      <el-radio-group v-model="job.symptom" aria-label="What it does">
        <el-radio-button
          v-for="(said, key) in SYMPTOMS"
          :key="key"
          :value="key"
          :data-test="`symptom-${key}`"
          >{{ said }}</el-radio-button
        >
      </el-radio-group>
    </el-form-item>
    <el-form-item label="It comes and goes: when it comes">
      <conditions-picker v-model="job.complaint_when" label="When it comes" />
    </el-form-item>
    <slot />
    <el-form-item label="What else the driver sees, hears and smells">
      <el-checkbox-group v-model="job.signs" class="signs" aria-label="Signs">
        <el-checkbox-button
          v-for="(word, id) in words.signs"
          :key="id"
          :value="id"
          :data-test="`sign-${id}`"
          >{{ word }}</el-checkbox-button
        >
      </el-checkbox-group>
    </el-form-item>
    <el-form-item label="Work already done">
      <work-rows v-model="job.work_done" :order="order" />
    </el-form-item>
    <div class="two">
      <el-form-item label="What the customer thinks it is" for="believed">
        <el-input id="believed" v-model="job.believed" maxlength="300" />
      </el-form-item>
      <el-form-item label="Who asked for what" for="asked">
        <el-input id="asked" v-model="job.asked_for" maxlength="300" placeholder="driver: stop the shaking" />
      </el-form-item>
    </div>
    <div class="two">
      <el-form-item label="Odometer, km" for="odometer">
        <el-input-number
          id="odometer"
          v-model="job.odometer_km"
          :min="0"
          :max="9999999"
          :controls="false"
          :value-on-clear="null"
          aria-label="Odometer, km"
        />
      </el-form-item>
      <el-form-item label="Labour agreed with the owner, min" for="ceiling">
        <el-input-number
          id="ceiling"
          v-model="job.ceiling_minutes"
          :min="1"
          :max="60000"
          :controls="false"
          :value-on-clear="null"
          aria-label="Labour agreed, minutes"
        />
      </el-form-item>
    </div>
  </div>
</template>

<style scoped>
.signs {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}
.signs :deep(.el-checkbox-button__inner) {
  min-height: 44px;
  border: 0;
  display: flex;
  align-items: center;
}
.signs :deep(.el-checkbox-button) {
  border: 1px solid var(--rule);
}
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0 16px;
}
.two :deep(.el-input-number) {
  width: 100%;
}
.two :deep(.el-input-number .el-input__inner) {
  text-align: left;
}
</style>
