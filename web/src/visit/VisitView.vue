<script setup lang="ts">
import { ElButton, ElForm, ElInput } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { emptyJob, jobOf, mended } from '@/intake/job'
import JobFields from '@/intake/JobFields.vue'
import ProblemNote from '@/shared/ProblemNote.vue'
import CodesPanel from './CodesPanel.vue'
import LabourClock from './LabourClock.vue'
import PartsPanel from './PartsPanel.vue'
import PastVisits from './PastVisits.vue'
import TriedForm from './TriedForm.vue'
import { useVisit } from './useVisit'

/** This visit of the vehicle: what was said, tried, read and fitted, the labour, and the visits before. */
const route = useRoute()
const caseId = computed(() => Number(route.params.id))
const {
  board,
  problem,
  reload,
  refusal,
  busy,
  may,
  amend,
  tried,
  codesRead,
  codesCleared,
  clock,
  part,
  notes,
} = useVisit(caseId)
const job = ref(emptyJob())
const noted = ref('')
watch(
  () => board.value?.visit,
  (visit, before) => {
    if (!visit) return
    if (JSON.stringify(visit.said) !== JSON.stringify(before?.said)) job.value = jobOf(visit.said)
    if (visit.notes !== before?.notes) noted.value = visit.notes
  },
  { immediate: true },
)
const changes = computed(() => (board.value ? mended(job.value, board.value.visit.said) : {}))
const changed = computed(() => Object.keys(changes.value).length > 0)
const order = computed(() => board.value?.case.engine.firing_order ?? [])
</script>

<template>
  <div class="page">
    <problem-note :problem="problem" :retry="reload" />
    <template v-if="board">
      <header class="page-head">
        <div>
          <h1>{{ board.case.vehicle || board.case.title }}: this visit</h1>
          <p class="soft">{{ board.case.engine_words }}</p>
        </div>
        <labour-clock :visit="board.visit" :may="may" @turn="clock" />
      </header>
      <problem-note :problem="refusal" />
      <div class="halves">
        <section>
          <h2>What was said</h2>
          <el-form label-position="top" :disabled="!may" @submit.prevent="amend(changes)">
            <job-fields v-model="job" :order="order" />
            <div v-if="may" class="keep">
              <el-button
                type="primary"
                native-type="submit"
                :disabled="!changed"
                :loading="busy"
                data-test="amend"
                >Keep what was mended</el-button
              >
              <span class="small soft">The journal keeps what stood there before, and who changed it.</span>
            </div>
          </el-form>
        </section>
        <div class="right">
          <section v-if="board.visit.history.length">
            <h2>Earlier visits</h2>
            <past-visits :history="board.visit.history" />
          </section>
          <tried-form :visit="board.visit" :may="may" :keep="tried" />
          <codes-panel
            :codes="board.case.codes"
            :visit="board.visit"
            :may="may"
            :read="codesRead"
            :cleared="codesCleared"
          />
          <parts-panel :parts="board.visit.parts" :order="order" :case-id="caseId" :may="may" :keep="part" />
          <section v-if="board.visit.vehicle !== null">
            <h2>Notes on the vehicle</h2>
            <el-input
              v-model="noted"
              type="textarea"
              :rows="2"
              maxlength="4000"
              aria-label="Notes on the vehicle"
              data-test="vehicle-notes"
            />
            <el-button
              :disabled="noted === board.visit.notes"
              data-test="vehicle-noted"
              @click="notes(board.visit.vehicle, noted)"
              >Keep the notes</el-button
            >
          </section>
        </div>
      </div>
    </template>
  </div>
</template>

<style scoped>
.halves {
  display: grid;
  /* Side by side where there is room for both. */
  grid-template-columns: repeat(auto-fit, minmax(min(440px, 100%), 1fr));
  gap: 8px 44px;
}
.right {
  display: grid;
  gap: 18px;
  align-content: start;
}
.halves :deep(h2) {
  margin-bottom: 8px;
  padding-bottom: 4px;
  border-bottom: 2px solid var(--ink);
}
.keep {
  display: flex;
  gap: 12px;
  align-items: center;
}
.right .el-button {
  margin-top: 6px;
}
:deep(.el-form-item) {
  margin-bottom: 12px;
}
</style>
