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
import { client, unwrap } from '@/api/client'
import ProblemNote from '@/shared/ProblemNote.vue'
import { useAttempt } from '@/shared/useAttempt'
import type { Conditions } from '@/shared/conditions'
import {
  calculatesUnder,
  cautionsUnder,
  firstChoices,
  hasEnds,
  isReady,
  placesUnder,
  usualUnder,
  type Choices,
  type Form,
  type Value,
  type Values,
} from './forms'
import { laidOut } from './pasted'
import InjectorCalculator from './InjectorCalculator.vue'
import PlacePicker from './PlacePicker.vue'
import WhenRead from './WhenRead.vue'

/** A row or two of readings, one per cylinder in firing order, written down in seconds. */
const props = defineProps<{
  caseId: number
  order: readonly number[]
  form: Form
  /** Chosen already where some choice offers it, as from the test asked next. */
  item: string
  /** Whether it is asked at once under which conditions: the complaint comes and goes. */
  when?: boolean
}>()
const emit = defineEmits<{ kept: [] }>()

const values = reactive<Values>(Object.fromEntries(props.form.rows.map((row) => [row.key, {}])))
const entries = reactive<Record<string, Value>>({})
const choices = reactive<Choices>(firstChoices(props.form, props.item))
const wide = props.form.rows.some((row) => row.options.length) ? 120 : 88
const circumstances = ref<Conditions>({})
const { problem, busy, attempt } = useAttempt()

const places = computed(() => placesUnder(props.form, choices))
const cautions = computed(() => cautionsUnder(props.form, choices))
const usual = computed(() => usualUnder(props.form, choices))
const ready = computed(
  () => isReady(props.form, values, entries, props.order) && hasEnds(props.form, choices),
)

const keep = () =>
  attempt(async () => {
    await unwrap(
      client.POST('/api/cases/{case_id}/forms/{test}/', {
        params: { path: { case_id: props.caseId, test: props.form.test } },
        body: {
          values,
          entries,
          choices: Object.fromEntries(Object.entries(choices).filter(([, v]) => v)),
          circumstances: circumstances.value,
        },
      }),
    )
    ElMessage({ message: `${props.form.kept} kept`, type: 'success' })
    emit('kept')
  })
/** Rows that hold plain numbers, as a spreadsheet has them. */
const numeric = props.form.rows.filter((row) => !row.tick && !row.options.length)
const pastedNote = ref('')
function paste(event: ClipboardEvent) {
  const found = laidOut(event.clipboardData?.getData('text/plain') ?? '', numeric, props.order)
  if (!found) return
  event.preventDefault()
  for (const [key, row] of Object.entries(found.values)) Object.assign(values[key]!, row)
  pastedNote.value = found.said || 'Filled from what was copied.'
}
/** Options that must not be taken on this engine, with the reason. */
const barred = computed(() => props.form.choices.flatMap((c) => c.options.filter((o) => o.why_not)))
</script>

<template>
  <section :aria-labelledby="`form-${form.test}`">
    <h2 :id="`form-${form.test}`">{{ form.title }}</h2>
    <p class="small soft">{{ form.hint }}</p>
    <p v-if="form.why_not" class="alarm" data-test="why-not">{{ form.why_not }}</p>
    <p v-for="caution in cautions" :key="caution" class="small alarm">{{ caution }}</p>
    <p v-for="o in barred" :key="o.value" class="small" :data-test="`why-not-${o.value}`">
      <strong>{{ o.words }}:</strong> {{ o.why_not }}
    </p>
    <div
      v-for="c in form.choices"
      :key="c.key"
      class="choice"
      role="group"
      :aria-label="c.words"
      :data-choice="c.key"
    >
      <span class="small">{{ c.words }}</span>
      <el-radio-group v-model="choices[c.key]">
        <el-radio-button
          v-for="o in c.options"
          :key="o.value"
          :value="o.value"
          :disabled="o.why_not !== ''"
          :data-test="`choose-${form.test}-${o.value}`"
          >{{ o.words }}</el-radio-button
        >
      </el-radio-group>
    </div>
    <place-picker
      v-if="places.length"
      :choices="choices"
      :places="places"
      :between="form.between"
      @put="(key, place) => (choices[key] = place)"
    />
    <injector-calculator v-if="calculatesUnder(form, choices)" />
    <p v-if="usual" data-test="expected">
      Usual: <strong>{{ usual }}</strong>
    </p>
    <when-read v-model="circumstances" :asked="form.choices.map((c) => c.key)" :open="when" />
    <div class="numbers">
      <div
        v-if="form.rows.length"
        class="grid"
        :data-test="`grid-${form.test}`"
        @paste.capture="paste"
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
              v-else-if="row.options.length"
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
      <label v-for="e in form.entries" :key="e.key" class="extra"
        ><span class="small">{{ e.words }}</span>
        <el-input v-if="e.text" v-model="entries[e.key] as string" :aria-label="e.words" />
        <el-input-number
          v-else
          v-model="entries[e.key] as number"
          :controls="false"
          :min="e.signed ? -100 : 0"
          :aria-label="e.words"
        />
      </label>
      <el-button :disabled="!ready" :loading="busy" :data-test="`keep-${form.test}`" @click="keep"
        >Keep {{ form.kept.toLowerCase() }}</el-button
      >
    </div>
    <p v-if="pastedNote" class="small" data-test="pasted" aria-live="polite">{{ pastedNote }}</p>
    <problem-note :problem="problem" />
  </section>
</template>

<style scoped>
.numbers {
  overflow-x: auto;
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
  min-width: 132px;
}
.choice .el-select {
  width: 320px;
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
