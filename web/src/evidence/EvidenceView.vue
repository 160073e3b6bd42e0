<script setup lang="ts">
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import FuelNote from '@/board/FuelNote.vue'
import { useBoard } from '@/board/useBoard'
import ProblemNote from '@/shared/ProblemNote.vue'
import { useLoaded } from '@/shared/useLoaded'
import { FORMS, loadForms } from './loadForms'
import FormShelf from './FormShelf.vue'
import NumbersForm from './NumbersForm.vue'
import TableImport from './TableImport.vue'

const route = useRoute()
const router = useRouter()
const caseId = computed(() => Number(route.params.id))
const { board, problem, reload, refusal, setFuel } = useBoard(caseId)
const { data: forms, problem: noForms } = useLoaded(FORMS, caseId, loadForms)
const shown = computed(() => forms.value?.find((form) => form.test === route.query.form))
/** Item of the test asked next, chosen already when its form opens. */
const item = computed(() => (typeof route.query.item === 'string' ? route.query.item : ''))
const show = (form: string, item: string) => router.replace({ query: { form, item: item || undefined } })
const kept = () => router.push(`/cases/${caseId.value}`)
</script>

<template>
  <div class="page">
    <problem-note :problem="problem" :retry="reload" />
    <template v-if="board">
      <header class="page-head">
        <div>
          <h1>Add evidence to {{ board.case.vehicle || board.case.title }}</h1>
          <p class="small soft">
            {{ board.case.engine_words }}.
            <router-link :to="`/shop/sums?case=${caseId}`" data-test="calculators">Calculators</router-link>
          </p>
        </div>
        <fuel-note
          :state="board.case.fuel_state"
          :note="board.case.fuel_note"
          :may="board.case.may.includes('fuel_state')"
          @set="setFuel"
        />
      </header>
      <problem-note :problem="refusal ?? noForms" />
      <p class="caution small">
        <strong>Before cranking:</strong> keep clear of fans and belts, never crank an engine with a cylinder
        full of liquid, let the starter cool between tries. Isolating a high-voltage vehicle is for those
        qualified to do it.
      </p>
      <template v-if="board.case.may.includes('add_evidence')">
        <table-import :case-id="caseId" :fuel-state="board.case.fuel_state" @kept="kept" />
        <section aria-labelledby="by-hand">
          <h2 id="by-hand">Read by hand or from a scan tool</h2>
          <numbers-form
            v-if="shown"
            :key="shown.test + item"
            :form="shown"
            :case-id="caseId"
            :vehicle="board.case.vehicle || board.case.title"
            :phase="board.life.phase"
            :order="board.case.engine.firing_order"
            :item="item"
            :when="board.case.complaint_when.length > 0"
            @kept="kept"
          />
          <form-shelf
            class="forms"
            :forms="forms ?? []"
            :asked="board.next_tests"
            :shown="shown?.test"
            @show="show"
          />
        </section>
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
