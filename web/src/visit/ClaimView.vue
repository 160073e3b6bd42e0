<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import ProblemNote from '@/shared/ProblemNote.vue'
import { whenInWords } from '@/shared/words'
import { useVisit } from './useVisit'

/** What a supplier is told of a part that was bad out of the box or broke while fitting: one page, to be printed. */
const route = useRoute()
const { board, problem, reload } = useVisit(computed(() => Number(route.params.id)))
const part = computed(() => board.value?.visit.parts.find((p) => p.id === Number(route.params.part)) ?? null)
const print = () => window.print()
</script>

<template>
  <div class="page">
    <problem-note :problem="problem" :retry="reload" />
    <article v-if="board && part" data-test="claim-sheet">
      <h1>Claim for a part</h1>
      <dl>
        <dt>Part</dt>
        <dd>{{ part.part }}, {{ part.fitted }}</dd>
        <dt v-if="part.supplier">Supplier</dt>
        <dd v-if="part.supplier">{{ part.supplier }}</dd>
        <dt>What is wrong</dt>
        <dd>
          <strong>{{ part.condition_words }}</strong>
        </dd>
        <template v-if="part.reading">
          <dt>Measured before fitting</dt>
          <dd>
            {{ part.reading }}<br /><span class="small"
              >peers: {{ part.peers.join(', ') }}; same meter, same leads, equally warm</span
            >
          </dd>
        </template>
        <dt>Vehicle</dt>
        <dd>
          {{ board.case.vehicle || board.case.title }}, {{ board.case.engine_words
          }}<template v-if="part.cylinder">, for cylinder {{ part.cylinder }}</template>
        </dd>
        <dt v-if="part.words">Remarks</dt>
        <dd v-if="part.words">{{ part.words }}</dd>
        <dt>By whom, when</dt>
        <dd>{{ part.by }}, {{ whenInWords(part.at) }}</dd>
      </dl>
      <p class="small">
        Reading as it was written down at the time; the journal of the case holds it unchanged.
      </p>
    </article>
    <p v-else-if="board" class="soft">There is no such part in this case.</p>
    <el-button v-if="part" class="print" @click="print">Print it</el-button>
  </div>
</template>

<style scoped>
article {
  max-width: 70ch;
}
dl {
  display: grid;
  grid-template-columns: 200px 1fr;
  gap: 10px 16px;
  border-top: 2px solid var(--ink);
  padding-top: 14px;
}
dt {
  font-weight: 600;
}
dd {
  margin: 0;
}
.print {
  margin-top: 16px;
}
@media print {
  .print {
    display: none;
  }
}
</style>
