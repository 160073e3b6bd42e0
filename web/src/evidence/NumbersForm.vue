<script setup lang="ts">
import { ElButton, ElInputNumber, ElMessage, ElRadioButton, ElRadioGroup } from 'element-plus'
import { computed, reactive, ref } from 'vue'
import { answer, client } from '@/api/client'
import { toProblem, type Problem } from '@/api/problems'
import ProblemNote from '@/shared/ProblemNote.vue'
import type { Form, Values } from './forms'

/** A row or two of numbers, one per cylinder in firing order, typed in seconds. */
const props = defineProps<{ caseId: number; order: readonly number[]; form: Form }>()
const emit = defineEmits<{ kept: [] }>()

const values = reactive<Values>(Object.fromEntries(props.form.rows.map((row) => [row.key, {}])))
const extra = reactive<Record<string, number | undefined>>({})
const choice = ref(props.form.choice?.options[0]?.value ?? '')
const problem = ref<Problem | null>(null)
const busy = ref(false)

const filled = computed(() =>
  props.order.filter((c) => props.form.rows.every((row) => values[row.key]![c] !== undefined)),
)
const ready = computed(
  () =>
    filled.value.length >= (props.form.least ?? props.order.length) &&
    (props.form.extra ?? []).every((e) => e.optional || extra[e.key] !== undefined),
)

async function keep() {
  busy.value = true
  problem.value = null
  try {
    const data = props.form.data({ values, extra, choice: choice.value, cylinders: filled.value })
    await answer(
      client.POST('/api/cases/{case_id}/observations/', {
        params: { path: { case_id: props.caseId } },
        body: { test: props.form.test, data },
      }),
    )
    ElMessage({ message: `${props.form.kept} kept`, type: 'success' })
    emit('kept')
  } catch (fault) {
    problem.value = toProblem(fault)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <section :aria-labelledby="`form-${form.test}`">
    <h2 :id="`form-${form.test}`">{{ form.title }}</h2>
    <p class="small soft">{{ form.hint }}</p>
    <p v-if="form.caution" class="small alarm">{{ form.caution }}</p>
    <div class="numbers">
      <div class="grid" :style="{ gridTemplateColumns: `auto repeat(${order.length}, 88px)` }">
        <span></span>
        <strong v-for="cylinder in order" :key="cylinder" class="number">{{ cylinder }}</strong>
        <template v-for="row in form.rows" :key="row.key">
          <span class="small">{{ row.words }}</span>
          <el-input-number
            v-for="cylinder in order"
            :key="cylinder"
            v-model="values[row.key]![cylinder]"
            :controls="false"
            :aria-label="`${row.words}, cylinder ${cylinder}`"
          />
        </template>
      </div>
      <label v-for="e in form.extra" :key="e.key" class="extra"
        ><span class="small">{{ e.words }}</span>
        <el-input-number v-model="extra[e.key]" :controls="false" :min="0" :aria-label="e.words" />
      </label>
      <div v-if="form.choice" class="extra" role="group" :aria-label="form.choice.words">
        <span class="small">{{ form.choice.words }}</span>
        <el-radio-group v-model="choice">
          <el-radio-button v-for="o in form.choice.options" :key="o.value" :value="o.value">{{
            o.words
          }}</el-radio-button>
        </el-radio-group>
      </div>
      <el-button :disabled="!ready" :loading="busy" :data-test="`keep-${form.test}`" @click="keep"
        >Keep {{ form.kept.toLowerCase() }}</el-button
      >
    </div>
    <problem-note :problem="problem" />
  </section>
</template>

<style scoped>
.numbers {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 18px;
  align-items: flex-end;
  margin-top: 8px;
}
.grid {
  display: grid;
  gap: 6px 8px;
  align-items: center;
}
.grid strong {
  text-align: center;
  font-size: 1.1rem;
}
.extra {
  display: flex;
  flex-direction: column;
  gap: 4px;
}
.el-input-number {
  width: 88px;
}
</style>
