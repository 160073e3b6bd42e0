<script setup lang="ts">
import { ElButton, ElInput, ElInputNumber, ElMessage, ElRadioButton, ElRadioGroup } from 'element-plus'
import { computed, nextTick, onMounted, reactive, ref } from 'vue'
import { newKey, send } from '@/api/sending'
import { hold } from '@/app/outbox'
import { useSession } from '@/app/session'
import ProblemNote from '@/shared/ProblemNote.vue'
import TradeText from '@/shared/TradeText.vue'
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
import InjectorCalculator from './InjectorCalculator.vue'
import ReadingGrid from './ReadingGrid.vue'
import PlacePicker from './PlacePicker.vue'
import WhenRead from './WhenRead.vue'

/** A row or two of readings, one per cylinder in firing order, written down in seconds. */
const props = defineProps<{
  caseId: number
  vehicle: string
  /** State the vehicle is in: what is sent later counts only while it still is. */
  phase: number
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
const circumstances = ref<Conditions>({})
const { problem, busy, attempt } = useAttempt()
const section = ref<HTMLElement | null>(null)

const places = computed(() => placesUnder(props.form, choices))
const cautions = computed(() => cautionsUnder(props.form, choices))
const usual = computed(() => usualUnder(props.form, choices))
const ready = computed(
  () => isReady(props.form, values, entries, props.order) && hasEnds(props.form, choices),
)

const session = useSession()
const key = newKey()
async function keep() {
  const url = `/api/cases/${props.caseId}/forms/${props.form.test}/`
  const chosen = Object.fromEntries(Object.entries(choices).filter(([, v]) => v))
  const body = { values, entries, choices: chosen, circumstances: circumstances.value }
  const sent = await attempt(() => send(url, { once: key, body }))
  if (!sent && problem.value?.code !== 'unreachable') return
  if (!sent)
    await hold({
      key,
      kind: 'reading',
      words: `${props.form.kept}, ${props.vehicle}`,
      url,
      body: JSON.parse(JSON.stringify(body)),
      notedAt: new Date().toISOString(),
      notedBy: session.state?.username ?? '',
      phase: props.phase,
    })
  ElMessage(
    sent
      ? { message: `${props.form.kept} kept`, type: 'success' }
      : { message: `${props.form.kept} not saved yet: held here until the server answers`, type: 'warning' },
  )
  emit('kept')
}
/** Past the last cell: on to the first entry still empty, or to keeping. */
function onward() {
  const open = props.form.entries.find((e) => !e.optional && !entries[e.key])
  const name = open ? `[aria-label="${open.words}"]` : `[data-test="keep-${props.form.test}"]`
  const found = section.value?.querySelector<HTMLElement>(`${name} input, input${name}, button${name}`)
  nextTick(() => found?.focus())
}
onMounted(() => {
  // Where a finger points, the screen's own keyboard would hide the form.
  if (window.matchMedia('(pointer: fine)').matches)
    section.value?.querySelector<HTMLElement>('.grid input, .extra input')?.focus()
})
/** Options that must not be taken on this engine, with the reason. */
const barred = computed(() => props.form.choices.flatMap((c) => c.options.filter((o) => o.why_not)))
</script>

<template>
  <section ref="section" :aria-labelledby="`form-${form.test}`">
    <h2 :id="`form-${form.test}`">{{ form.title }}</h2>
    <p class="small soft"><trade-text :text="form.hint" /></p>
    <p v-if="form.why_not" class="alarm" data-test="why-not">{{ form.why_not }}</p>
    <p v-for="caution in cautions" :key="caution" class="small alarm"><trade-text :text="caution" /></p>
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
      <reading-grid v-if="form.rows.length" :form="form" :order="order" :values="values" @through="onward" />
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
</style>
