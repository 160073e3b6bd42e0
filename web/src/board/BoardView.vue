<script setup lang="ts">
import { computed, nextTick, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useKeys } from '@/app/keys'
import ProblemNote from '@/shared/ProblemNote.vue'
import { askedFor } from './asking'
import BoardDialogs from './BoardDialogs.vue'
import BoardFoot from './BoardFoot.vue'
import BoardHead from './BoardHead.vue'
import BoardRow from './BoardRow.vue'
import LifeBar from './LifeBar.vue'
import SafetyQuestions from './SafetyQuestions.vue'
import StatementPanel from './StatementPanel.vue'
import WaitingRow from './WaitingRow.vue'
import { foldedOf } from './folding'
import { changesOf, phaseWords } from './life'
import { scaleOf } from './scale'
import { useBoard, type Row } from './useBoard'
import { useFetchedAhead } from './useFetchedAhead'

const WAITING_SHOWN = 4
const route = useRoute()
const router = useRouter()
const caseId = computed(() => Number(route.params.id))
const {
  board,
  problem,
  reload,
  refusal,
  accused,
  setFuel,
  setClock,
  setApproach,
  setHappening,
  setMinutes,
  answerQuestion,
  recordWork,
  recordFound,
  decide,
  followUp,
  followedUp,
  close,
  reopen,
  withdraw,
} = useBoard(caseId)
useFetchedAhead(board)
const picked = ref<number | null>(null)
const all = ref(false)
const unfolded = ref(false)
const folded = computed(() => foldedOf(board.value?.rows ?? []))
const working = ref(false)
const work = ref<'changed_over' | 'after_repair' | null>(null)
const closing = ref(false)
const finding = ref(false)
const deciding = ref(false)
const may = (verb: string) => board.value?.case.may.includes(verb) ?? false
const waiting = computed(
  () => (all.value ? board.value?.waiting : board.value?.waiting.slice(0, WAITING_SHOWN)) ?? [],
)
const rivals = computed(() => {
  const open = board.value?.verdict.rivals ?? []
  return new Set(open.length < (board.value?.columns.length ?? 0) ? open : [])
})
const striped = computed(
  () =>
    board.value?.columns.filter((c) => accused.value.has(c.cylinder) || rivals.value.has(c.cylinder)) ?? [],
)

function pick(cylinder: number) {
  picked.value = picked.value === cylinder ? null : cylinder
}
function open(row: Row | undefined) {
  if (row?.capture)
    void router.push({ path: `/cases/${caseId.value}/traces/${row.capture}`, query: pickedQuery() })
}
const pickedQuery = () => (picked.value ? { cylinder: String(picked.value) } : {})
function openEvidence(ids: readonly string[]) {
  const found = board.value?.findings.filter((f) => ids.includes(f.id)) ?? []
  const cylinder = found.length === 1 ? found[0]?.cylinder : null
  if (cylinder) picked.value = cylinder
  const name = found.find((f) => f.resource)?.resource
  const row = board.value?.rows.find((r) => r.capture && !r.withdrawn && r.test === found[0]?.test)
  if (name && row) open(row)
}
async function askWithdraw(row: Row) {
  const reason = await askedFor(
    'It stays visible, struck through, with your reason.',
    `Withdraw ${row.title}`,
    ['Withdraw it', 'Keep it'],
  )
  if (reason) await withdraw(row, reason)
}
async function askReopen() {
  const reason = await askedFor('Why is it opened again?', 'Open the case again', [
    'Open it again',
    'Leave it closed',
  ])
  if (reason) await reopen(reason)
}
const digits = Object.fromEntries(
  [...'1234567890'].map((key) => [key, () => pick(key === '0' ? 10 : Number(key))]),
)
useKeys({
  ...digits,
  Enter: () => open(board.value?.rows.find((r) => r.capture && r.usable && !r.withdrawn)),
  n: () => void nextTick(() => document.getElementById('next-test')?.focus()),
})
</script>

<template>
  <div class="board">
    <problem-note :problem="problem" :retry="reload" />
    <template v-if="board">
      <board-head
        :board="board"
        @fuel="setFuel"
        @clock="setClock"
        @close="closing = true"
        @reopen="askReopen"
      />
      <problem-note :problem="refusal" />
      <safety-questions
        :questions="board.questions"
        :may="may('add_evidence') && board.case.status === 'open'"
        @answer="answerQuestion"
      />
      <life-bar
        :life="board.life"
        :history="board.visit.history"
        :may="may('add_evidence') && board.case.status === 'open'"
        @work="(kind) => (work = kind)"
        @put-back="recordWork({ kind: 'put_back', part: '', words: '' })"
        @found="finding = true"
        @decide="deciding = true"
        @followed-up="followedUp"
      />
      <div class="split">
        <div class="field" :style="{ '--columns': board.columns.length }">
          <div class="columns" role="group" aria-label="Cylinders in firing order">
            <span class="corner small soft">Firing order,<br />720° of crank</span>
            <div class="axis heads" :class="{ crowded: board.columns.length > 12 }">
              <button
                v-for="column in board.columns"
                :key="column.cylinder"
                type="button"
                :style="{ left: `${100 * column.start}%`, width: `${100 * column.width}%` }"
                :class="{ ill: accused.has(column.cylinder), picked: picked === column.cylinder }"
                :aria-pressed="picked === column.cylinder"
                :data-test="`column-${column.cylinder}`"
                @click="pick(column.cylinder)"
              >
                <span class="visually-hidden">Cylinder</span>
                <strong>{{ column.cylinder }}</strong><span class="number"
                  >{{ Math.round(column.tdc_deg) }}°</span
                >
              </button>
            </div>
          </div>
          <div class="rows">
            <div class="stripes" aria-hidden="true">
              <span
                v-for="column in board.columns"
                :key="column.cylinder"
                class="rule"
                :style="{ left: `${100 * column.start}%` }"
              ></span>
              <span
                v-for="column in striped"
                :key="column.cylinder"
                class="stripe"
                :class="{ rival: rivals.has(column.cylinder) }"
                :style="{ left: `${100 * column.start}%`, width: `${100 * column.width}%` }"
              ></span>
            </div>
            <board-row
              v-for="row in board.rows"
              :key="row.id"
              :row="row"
              :columns="board.columns"
              :picked="picked"
              :changes="changesOf(row, board.life)"
              :phase="phaseWords(row, board.life)"
              :scale="scaleOf(row, board.rows)"
              :folded="!unfolded && folded.has(row.id)"
              :may-withdraw="may('withdraw_own') && board.case.status === 'open'"
              @open="open"
              @pick="pick"
              @withdraw="askWithdraw"
            />
            <div v-if="!board.rows.length" class="empty">
              <h2>No evidence yet</h2>
              <p>Clamp the starter current, disable fuel, crank for 5 to 10 s, then add the capture.</p>
            </div>
            <waiting-row v-for="test in waiting" :key="test.test" :test="test" />
          </div>
          <board-foot
            v-model="all"
            v-model:unfolded="unfolded"
            :case-id="board.case.id"
            :folded="folded.size"
            :more="board.waiting.length - WAITING_SHOWN"
          />
        </div>
        <statement-panel
          :board="board"
          @evidence="openEvidence"
          @approach="working = true"
          @happening="(now: boolean) => setHappening(now)"
        />
      </div>
      <board-dialogs
        v-model:work="work"
        v-model:closing="closing"
        v-model:finding="finding"
        v-model:working="working"
        v-model:deciding="deciding"
        :board="board"
        :refusal="refusal"
        :verbs="{ recordWork, recordFound, decide, followUp, close, setApproach, setMinutes }"
      />
    </template>
    <p v-else-if="!problem" class="page soft">Loading the board</p>
  </div>
</template>

<style scoped src="./board.css"></style>
