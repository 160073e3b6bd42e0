<script setup lang="ts">
import {
  ElButton,
  ElCheckboxButton,
  ElCheckboxGroup,
  ElForm,
  ElFormItem,
  ElInput,
  ElRadioButton,
  ElRadioGroup,
} from 'element-plus'
import { computed, reactive, ref } from 'vue'
import { useRouter } from 'vue-router'
import { client, unwrap, type Schemas } from '@/api/client'
import ProblemNote from '@/shared/ProblemNote.vue'
import { useAttempt } from '@/shared/useAttempt'
import ConditionsPicker from '@/shared/ConditionsPicker.vue'
import type { Conditions } from '@/shared/conditions'
import { SYMPTOMS, type Symptom } from '@/shared/symptoms'
import { words } from '@/shared/words'
import EngineForm from './EngineForm.vue'
import WorkRows from './WorkRows.vue'
import { useEngineCheck, type TypedEngine } from './useEngineCheck'

type Signs = NonNullable<Schemas['IntakeRequest']['signs']>
const router = useRouter()
const engine = ref<TypedEngine>({
  label: '',
  cylinders: 4,
  firing_order: '1 3 4 2',
  fuel: 'petrol',
  ignition: 'coil_on_plug',
  injection: 'port',
})
const job = reactive({
  vehicle: '',
  complaint: '',
  symptom: 'runs_badly' as Symptom,
  complaint_when: {} as Conditions,
  complaint_verified: '',
  signs: [] as Signs,
  work_done: [] as Schemas['WorkDoneRequest'][],
  codes: '',
})
const { problem, busy, attempt } = useAttempt()
const { check } = useEngineCheck(() => ({ ...engine.value }))
/** Cylinders as far as the firing order is typed. */
const order = computed(() => (engine.value.firing_order.match(/\d+/g) ?? []).map(Number))
const ready = computed(() => job.vehicle.trim() !== '' && check.value?.valid === true)

const start = () =>
  attempt(async () => {
    const kept = await unwrap(
      client.POST('/api/cases/', {
        body: {
          title: job.complaint ? `${job.vehicle}, ${job.complaint}`.slice(0, 120) : job.vehicle,
          vehicle: job.vehicle,
          engine: { ...engine.value },
          complaint: job.complaint,
          complaint_verified: job.complaint_verified,
          symptom: job.symptom,
          complaint_when: job.complaint_when,
          signs: job.signs,
          work_done: job.work_done.filter((row) => row.part || row.words?.trim()),
          codes: job.codes
            .split(/[\s,;]+/)
            .filter(Boolean)
            .map((code) => ({ code: code.toUpperCase(), status: 'stored' })),
        },
      }),
    )
    await router.push(`/cases/${kept.id}/evidence`)
  })
</script>

<template>
  <div class="page">
    <h1>New case</h1>
    <el-form label-position="top" class="form" @submit.prevent="start">
      <section>
        <h2>Vehicle and complaint</h2>
        <el-form-item label="Vehicle" for="vehicle">
          <el-input id="vehicle" v-model="job.vehicle" autofocus placeholder="Minibus 3" />
        </el-form-item>
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
        <el-form-item label="Verified in person, when" for="verified">
          <el-input
            id="verified"
            v-model="job.complaint_verified"
            placeholder="cold, idle; empty if not yet"
          />
        </el-form-item>
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
        <el-form-item label="Codes" for="codes">
          <el-input id="codes" v-model="job.codes" placeholder="P0303" />
        </el-form-item>
      </section>
      <engine-form v-model="engine" :check="check" />
      <footer>
        <problem-note :problem="problem" />
        <el-button
          type="primary"
          native-type="submit"
          :disabled="!ready"
          :loading="busy"
          data-test="start-case"
          >Start case</el-button
        >
        <span v-if="!ready" class="soft small">A case needs a vehicle and an engine that can be.</span>
      </footer>
    </el-form>
  </div>
</template>

<style scoped>
.form {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px 44px;
  margin-top: 14px;
}
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
h2 {
  margin-bottom: 8px;
  padding-bottom: 4px;
  border-bottom: 2px solid var(--ink);
}
footer {
  grid-column: 1 / -1;
}
footer .soft {
  margin-left: 12px;
}
:deep(.el-form-item) {
  margin-bottom: 12px;
}
</style>
