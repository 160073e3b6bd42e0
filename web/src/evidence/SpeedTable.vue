<script setup lang="ts">
import { ElButton, ElInputNumber, ElMessage } from 'element-plus'
import { computed, reactive, ref } from 'vue'
import { answer, client } from '@/api/client'
import { toProblem, type Problem } from '@/api/problems'
import ProblemNote from '@/shared/ProblemNote.vue'

/** The scan tool's cranking speed per cylinder, typed in as a row of numbers. */
const props = defineProps<{ caseId: number; order: readonly number[] }>()
const emit = defineEmits<{ kept: [] }>()

const speeds = reactive<Record<number, number | undefined>>({})
const seconds = ref<number | undefined>(undefined)
const problem = ref<Problem | null>(null)
const busy = ref(false)
const ready = computed(() => props.order.every((c) => speeds[c] !== undefined) && seconds.value !== undefined)

async function keep() {
  busy.value = true
  problem.value = null
  try {
    const cylinder_rpm = Object.fromEntries(props.order.map((c) => [String(c), speeds[c]]))
    await answer(
      client.POST('/api/cases/{case_id}/observations/', {
        params: { path: { case_id: props.caseId } },
        body: { test: 'cranking_speed', data: { cylinder_rpm, seconds: seconds.value } },
      }),
    )
    ElMessage({ message: 'Speed table kept', type: 'success' })
    emit('kept')
  } catch (fault) {
    problem.value = toProblem(fault)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <section aria-labelledby="speed-table">
    <h2 id="speed-table">Cranking speed per cylinder, from a scan tool</h2>
    <p class="small soft">
      Wait until the table has settled, 8 to 10 s of cranking, and take the values while it still cranks.
      Faster is weaker.
    </p>
    <div class="numbers">
      <label v-for="cylinder in order" :key="cylinder"
        ><span>{{ cylinder }}</span>
        <el-input-number
          v-model="speeds[cylinder]"
          :controls="false"
          :aria-label="`rpm of cylinder ${cylinder}`"
        />
      </label>
      <label class="seconds"
        ><span class="small">seconds cranked</span>
        <el-input-number
          v-model="seconds"
          :controls="false"
          :min="0"
          :max="60"
          aria-label="Seconds cranked"
        />
      </label>
      <el-button :disabled="!ready" :loading="busy" data-test="keep-speeds" @click="keep"
        >Keep speed table</el-button
      >
    </div>
    <problem-note :problem="problem" />
  </section>
</template>

<style scoped>
.numbers {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: flex-end;
  margin-top: 8px;
}
label {
  display: flex;
  flex-direction: column;
  align-items: center;
}
label > span:first-child {
  font-weight: 700;
  font-size: 1.1rem;
}
label > span.small {
  font-weight: 400;
  font-size: 14px;
}
.el-input-number {
  width: 88px;
}
</style>
