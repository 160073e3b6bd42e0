<script setup lang="ts">
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import FuelNote from '@/board/FuelNote.vue'
import { useBoard } from '@/board/useBoard'
import ProblemNote from '@/shared/ProblemNote.vue'
import { FORMS } from './forms'
import NumbersForm from './NumbersForm.vue'
import TableImport from './TableImport.vue'

const route = useRoute()
const router = useRouter()
const caseId = computed(() => Number(route.params.id))
const { board, problem, reload, refusal, setFuel } = useBoard(caseId)
const kept = () => router.push(`/cases/${caseId.value}`)
</script>

<template>
  <div class="page">
    <problem-note :problem="problem" :retry="reload" />
    <template v-if="board">
      <header class="page-head">
        <div>
          <h1>Add evidence to {{ board.case.vehicle || board.case.title }}</h1>
          <p class="small soft">{{ board.case.engine_words }}</p>
        </div>
        <fuel-note
          :state="board.case.fuel_state"
          :note="board.case.fuel_note"
          :may="board.case.may.includes('fuel_state')"
          @set="setFuel"
        />
      </header>
      <problem-note :problem="refusal" />
      <p class="caution small">
        <strong>Before cranking:</strong> keep clear of fans and belts, never crank an engine with a cylinder
        full of liquid, let the starter cool between tries. Isolating a high-voltage vehicle is for those
        qualified to do it.
      </p>
      <template v-if="board.case.may.includes('add_evidence')">
        <table-import :case-id="caseId" :fuel-state="board.case.fuel_state" @kept="kept" />
        <numbers-form
          v-for="form in FORMS"
          :key="form.test"
          :form="form"
          :case-id="caseId"
          :order="board.case.engine.firing_order"
          @kept="kept"
        />
      </template>
      <p v-else>Your role reads only. Ask a technician to add evidence.</p>
    </template>
  </div>
</template>

<style scoped>
.caution {
  border-left: 5px solid var(--alarm);
  padding: 2px 12px;
  margin-bottom: 18px;
}
section {
  margin-bottom: 30px;
}
</style>
