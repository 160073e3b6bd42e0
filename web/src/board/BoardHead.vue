<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { SYMPTOMS } from '@/shared/symptoms'
import { labourOf } from '@/visit/labour'
import { custodyInWords } from './custody'
import FuelNote from './FuelNote.vue'
import type { Board } from './useBoard'

/** Above the board: which case, on which engine, its labour, the state of fuel, and how the case ends. */
const props = defineProps<{ board: Board }>()
const emit = defineEmits<{
  fuel: [state: 'enabled' | 'disabled', how: string]
  clock: [running: boolean]
  close: []
  reopen: []
}>()
const router = useRouter()
const open = computed(() => props.board.case.status === 'open')
const may = (verb: string) => props.board.case.may.includes(verb)
const custody = computed(() => custodyInWords(props.board.case.custody, new Date()))
</script>

<template>
  <header>
    <div>
      <h1>{{ board.case.title }}</h1>
      <div class="about small">
        <p class="soft">
          <strong v-if="!['runs', 'runs_badly'].includes(board.case.symptom)" data-test="symptom"
            >{{ SYMPTOMS[board.case.symptom] }}.
          </strong>
          {{ board.case.engine_words }}<span v-if="custody" data-test="custody">, {{ custody }}</span>
        </p>
        <p class="labour" data-test="labour" :data-minutes="board.visit.labour_minutes">
          {{ labourOf(board.visit) }}
          <template v-if="board.visit.working.length"
            >({{ board.visit.working.join(', ') }} at work)</template
          >
          <button
            v-if="open && may('add_evidence')"
            type="button"
            class="quiet"
            data-test="clock"
            @click="emit('clock', !board.visit.own_clock)"
          >
            {{ board.visit.own_clock ? 'Stop my clock' : 'Start my clock' }}
          </button>
          <strong v-if="board.visit.ceiling_words" class="alarm" role="status" data-test="ceiling">{{
            board.visit.ceiling_words
          }}</strong>
        </p>
      </div>
      <p v-if="board.case.custody?.changed.length" class="changed" role="alert" data-test="changed">
        No evidence any more: {{ board.case.custody.changed.join('; ') }}
      </p>
    </div>
    <div class="actions">
      <fuel-note
        :state="board.case.fuel_state"
        :note="board.case.fuel_note"
        :may="may('fuel_state') && open"
        @set="(state, how) => emit('fuel', state, how)"
      />
      <el-button
        v-if="may('add_evidence') && open"
        type="primary"
        @click="router.push(`/cases/${board.case.id}/evidence`)"
        >Add evidence</el-button
      >
      <el-button v-if="may('close_case') && open" data-test="close-case" @click="emit('close')"
        >Close the case</el-button
      >
      <template v-else-if="!open">
        <strong data-test="closed">Closed, {{ board.life.stage_words }}</strong>
        <el-button v-if="may('close_case')" data-test="reopen" @click="emit('reopen')"
          >Open it again</el-button
        >
      </template>
    </div>
  </header>
</template>

<style scoped src="./board.css"></style>
<style scoped>
.about {
  display: flex;
  flex-wrap: wrap;
  gap: 0 18px;
}
.labour .quiet {
  min-height: 0;
  padding: 4px 6px;
}
</style>
