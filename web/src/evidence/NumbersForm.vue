<script setup lang="ts">
import {
  ElButton,
  ElCheckbox,
  ElInput,
  ElInputNumber,
  ElMessage,
  ElOption,
  ElRadioButton,
  ElRadioGroup,
  ElSelect,
} from 'element-plus'
import { computed, reactive, ref } from 'vue'
import { answer, client } from '@/api/client'
import { toProblem, type Problem } from '@/api/problems'
import ProblemNote from '@/shared/ProblemNote.vue'
import InjectorCalculator from './InjectorCalculator.vue'
import type { Form, Value, Values } from './forms'

/** A row or two of readings, one per cylinder in firing order, written down in seconds. */
const props = defineProps<{
  caseId: number
  order: readonly number[]
  form: Form
  expected: Record<string, string>
  /** Places along the injector circuit, where the engine's data name some. */
  places?: readonly string[]
  /** Choices made already, as from the test asked next. */
  chosen?: Record<string, string>
}>()
const emit = defineEmits<{ kept: [] }>()

const values = reactive<Values>(Object.fromEntries(props.form.rows.map((row) => [row.key, {}])))
const extra = reactive<Record<string, number | undefined>>({})
const texts = reactive<Record<string, string>>({})
const choices = reactive<Record<string, string>>(
  Object.fromEntries(
    (props.form.choices ?? []).map((c) => [c.key, props.chosen?.[c.key] ?? c.options[0]!.value]),
  ),
)
const wide = props.form.rows.some((row) => row.options) ? 120 : 88
const problem = ref<Problem | null>(null)
const busy = ref(false)

const ticks = props.form.rows.filter((row) => row.tick)
const plain = props.form.rows.filter((row) => !row.tick && !row.optional)
const given = (value: Value) => value !== undefined && value !== null && value !== ''
const filled = computed(() =>
  props.order.filter(
    (c) =>
      plain.every((row) => given(values[row.key]![c])) || ticks.some((row) => values[row.key]![c] === true),
  ),
)
const along = computed(() => (props.form.along?.(choices) ? (props.places ?? []) : []))
const usual = computed(() => (props.form.expects ? props.expected[props.form.expects(choices)] : ''))
const ready = computed(
  () =>
    filled.value.length >= (props.form.least ?? props.order.length) &&
    (props.form.extra ?? []).every((e) => e.optional || extra[e.key] !== undefined) &&
    (props.form.texts ?? []).every((t) => texts[t.key]?.trim()),
)

async function keep() {
  busy.value = true
  problem.value = null
  try {
    const data = props.form.data({ values, extra, texts, choices, cylinders: filled.value })
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
    <div v-for="c in form.choices" :key="c.key" class="choice" role="group" :aria-label="c.words">
      <span class="small">{{ c.words }}</span>
      <el-radio-group v-model="choices[c.key]">
        <el-radio-button
          v-for="o in c.options"
          :key="o.value"
          :value="o.value"
          :data-test="`choose-${form.test}-${o.value}`"
          >{{ o.words }}</el-radio-button
        >
      </el-radio-group>
    </div>
    <div v-if="along.length" class="choice">
      <span class="small">Place on the wire</span>
      <el-select
        v-model="choices.place"
        clearable
        placeholder="not noted"
        aria-label="Place along the circuit"
        data-test="place"
      >
        <el-option v-for="place in along" :key="place" :value="place" :label="place" />
      </el-select>
    </div>
    <injector-calculator v-if="form.calculates?.(choices)" />
    <p v-if="usual" class="usual" data-test="expected">
      Usual: <strong>{{ usual }}</strong>
    </p>
    <div class="numbers">
      <div
        v-if="form.rows.length"
        class="grid"
        :style="{ gridTemplateColumns: `auto repeat(${order.length}, ${wide}px)` }"
      >
        <span></span>
        <strong v-for="cylinder in order" :key="cylinder" class="number">{{ cylinder }}</strong>
        <template v-for="row in form.rows" :key="row.key">
          <span class="small">{{ row.words }}</span>
          <template v-for="cylinder in order" :key="cylinder">
            <el-checkbox
              v-if="row.tick"
              :model-value="values[row.key]![cylinder] === true"
              :aria-label="`${row.words}, cylinder ${cylinder}`"
              @update:model-value="values[row.key]![cylinder] = $event === true"
            />
            <el-select
              v-else-if="row.options"
              v-model="values[row.key]![cylinder] as string"
              clearable
              placeholder=""
              :aria-label="`${row.words}, cylinder ${cylinder}`"
              :data-test="`pick-${form.test}-${cylinder}`"
            >
              <el-option v-for="o in row.options" :key="o.value" :value="o.value" :label="o.words" />
            </el-select>
            <el-input-number
              v-else
              v-model="values[row.key]![cylinder] as number"
              :controls="false"
              :aria-label="`${row.words}, cylinder ${cylinder}`"
            />
          </template>
        </template>
      </div>
      <label v-for="t in form.texts" :key="t.key" class="extra"
        ><span class="small">{{ t.words }}</span>
        <el-input v-model="texts[t.key]" :aria-label="t.words" />
      </label>
      <label v-for="e in form.extra" :key="e.key" class="extra"
        ><span class="small">{{ e.words }}</span>
        <el-input-number
          v-model="extra[e.key]"
          :controls="false"
          :min="e.signed ? -100 : 0"
          :aria-label="e.words"
        />
      </label>
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
.choice {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: center;
  margin-top: 8px;
}
.choice > span {
  min-width: 96px;
}
.choice .el-select {
  width: 320px;
}
.usual {
  margin: 10px 0 0;
}
.extra {
  display: flex;
  flex-direction: column;
  gap: 4px;
}
.el-input-number {
  width: 88px;
}
.grid .el-input-number,
.grid .el-select {
  width: 100%;
}
.grid .el-checkbox {
  justify-self: center;
  min-height: 44px;
  min-width: 44px;
  justify-content: center;
}
.grid .el-checkbox :deep(.el-checkbox__inner) {
  width: 28px;
  height: 28px;
}
.grid .el-checkbox :deep(.el-checkbox__inner::after) {
  width: 8px;
  height: 15px;
  left: 9px;
  top: 2px;
}
</style>
