<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElInputNumber, ElRadioButton, ElRadioGroup } from 'element-plus'
import { computed, reactive, ref, watch } from 'vue'
import { client, unwrap } from '@/api/client'
import type { Problem } from '@/api/problems'
import { useSession } from '@/app/session'
import { moneyInWords } from '@/options/money'
import ProblemNote from '@/shared/ProblemNote.vue'
import { useLoaded } from '@/shared/useLoaded'
import { AGREEMENTS, decisionFields, noDecision, withOption, type Agreement, type WayOn } from './decision'
import SignaturePad from './SignaturePad.vue'
import type { Board } from './useBoard'

/** What the owner decided: to what, up to how much, said how, and signed or noted. */
const props = defineProps<{
  board: Board
  refusal: Problem | null
  record: (fields: Record<string, string>, signature: Blob | null) => Promise<boolean>
}>()
const shown = defineModel<boolean>({ required: true })
const given = reactive(noDecision())
const session = useSession()
const signed = ref(false)
const pad = ref<InstanceType<typeof SignaturePad> | null>(null)
const ready = computed(() => given.who.trim() !== '' && (signed.value || given.note.trim() !== ''))
const { data: ways } = useLoaded(
  'options',
  () => (shown.value ? props.board.case.id : null),
  (case_id, signal) =>
    unwrap(client.GET('/api/cases/{case_id}/options/', { params: { path: { case_id } }, signal })),
)
watch(shown, (now) => now && Object.assign(given, noDecision()))

function toggle(what: Agreement) {
  given.agreed = given.agreed.includes(what)
    ? given.agreed.filter((one) => one !== what)
    : [...given.agreed, what]
}
const pick = (way: WayOn) => Object.assign(given, withOption(given, way))
async function keep() {
  const signature = (await pad.value?.taken()) ?? null
  if (await props.record(decisionFields(given), signature)) shown.value = false
}
</script>

<template>
  <el-dialog v-model="shown" title="What the owner decided" width="680px" top="12px" destroy-on-close>
    <form class="work" novalidate @submit.prevent="keep">
      <div>
        <span>Agreed to, nothing for a no</span>
        <div class="agreed">
          <button
            v-for="(word, key) in AGREEMENTS"
            :key="key"
            type="button"
            :aria-pressed="given.agreed.includes(key)"
            :data-test="`agree-${key}`"
            @click="toggle(key)"
          >
            {{ word }}
          </button>
        </div>
      </div>
      <div v-if="ways?.length">
        <span>Which way</span>
        <div class="agreed">
          <button
            v-for="way in ways"
            :key="way.kind"
            type="button"
            class="way"
            :aria-pressed="given.option === way.words"
            data-test="option"
            @click="pick(way)"
          >
            {{ way.words
            }}<template v-if="way.price">, {{ moneyInWords(way.price, session.state?.currency) }}</template>
          </button>
        </div>
      </div>
      <div class="two">
        <label>
          <span>Labour up to, min</span>
          <el-input-number
            v-model="given.up_to_minutes"
            :min="1"
            :max="60000"
            :controls="false"
            :value-on-clear="null"
            aria-label="Labour up to, minutes"
            data-test="decision-minutes"
          />
        </label>
        <label>
          <span>A sum, as it was said</span>
          <el-input v-model="given.up_to" maxlength="100" aria-label="Up to which sum" />
        </label>
      </div>
      <div class="two">
        <label>
          <span>Who decided</span>
          <el-input v-model="given.who" maxlength="300" aria-label="Who decided" data-test="decision-who" />
        </label>
        <div>
          <span>Said how</span>
          <el-radio-group v-model="given.way" aria-label="Said how">
            <el-radio-button value="in_person">In person</el-radio-button>
            <el-radio-button value="phone">Phone</el-radio-button>
            <el-radio-button value="message">Message</el-radio-button>
          </el-radio-group>
        </div>
      </div>
      <div>
        <span>Signature, or a note below</span>
        <signature-pad ref="pad" v-model:drawn="signed" />
      </div>
      <el-input
        v-model="given.note"
        maxlength="300"
        placeholder="what was said"
        aria-label="Note"
        data-test="decision-note"
      />
      <problem-note :problem="refusal" />
      <el-button type="primary" native-type="submit" :disabled="!ready" data-test="decision-keep"
        >Keep the decision</el-button
      >
    </form>
  </el-dialog>
</template>

<style scoped src="./dialog.css"></style>
<style scoped>
.agreed {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.agreed button {
  min-height: 48px;
  padding: 4px 14px;
  border: 1px solid var(--ink);
  background: var(--work);
  color: inherit;
  font: inherit;
  cursor: pointer;
}
.agreed button[aria-pressed='true'] {
  background: var(--ink);
  color: var(--work);
}
.way::first-letter {
  text-transform: uppercase;
}
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 14px;
}
.two > * {
  display: grid;
  gap: 4px;
  align-content: start;
}
.two span {
  font-weight: 600;
}
.two .el-input-number {
  width: 100%;
}
@media (max-width: 899px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
