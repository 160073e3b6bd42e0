<script setup lang="ts">
import type { Problem } from '@/api/problems'
import ApproachDialog from './ApproachDialog.vue'
import ClosingDialog from './ClosingDialog.vue'
import DecisionDialog from './DecisionDialog.vue'
import FoundDialog from './FoundDialog.vue'
import WorkDialog from './WorkDialog.vue'
import type { Board, useBoard } from './useBoard'

/** What is asked for on top of the board. */
type Verbs = 'recordWork' | 'recordFound' | 'decide' | 'followUp' | 'close' | 'setApproach' | 'setMinutes'
const props = defineProps<{
  board: Board
  refusal: Problem | null
  verbs: Pick<ReturnType<typeof useBoard>, Verbs>
}>()
const work = defineModel<'changed_over' | 'after_repair' | null>('work', { required: true })
const closing = defineModel<boolean>('closing', { required: true })
const finding = defineModel<boolean>('finding', { required: true })
const working = defineModel<boolean>('working', { required: true })
const deciding = defineModel<boolean>('deciding', { required: true })
const may = (verb: string) => props.board.case.may.includes(verb)
</script>

<template>
  <div>
    <work-dialog
      v-if="may('add_evidence')"
      v-model="work"
      :board="board"
      :refusal="refusal"
      :record="verbs.recordWork"
    />
    <closing-dialog
      v-if="may('close_case')"
      v-model="closing"
      :life="board.life"
      :refusal="refusal"
      :close="verbs.close"
      :follow-up="verbs.followUp"
      @found="finding = true"
    />
    <found-dialog
      v-if="may('close_case')"
      v-model="finding"
      :board="board"
      :refusal="refusal"
      :record="verbs.recordFound"
    />
    <decision-dialog
      v-if="may('add_evidence')"
      v-model="deciding"
      :board="board"
      :refusal="refusal"
      :record="verbs.decide"
    />
    <approach-dialog
      v-if="may('add_evidence')"
      v-model="working"
      :board="board"
      @change="(changes: object) => verbs.setApproach(changes)"
      @minutes="(test: string, minutes: number | null) => verbs.setMinutes(test, minutes)"
    />
  </div>
</template>
