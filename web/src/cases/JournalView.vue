<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { client, unwrap } from '@/api/client'
import ProblemNote from '@/shared/ProblemNote.vue'
import { useLoaded } from '@/shared/useLoaded'
import { whenInWords } from '@/shared/words'

const route = useRoute()
const id = computed(() => Number(route.params.id))
const { data, problem, reload } = useLoaded('journal', id, (case_id, signal) =>
  unwrap(client.GET('/api/cases/{case_id}/', { params: { path: { case_id } }, signal })),
)
</script>

<template>
  <div class="page">
    <problem-note :problem="problem" :retry="reload" />
    <template v-if="data">
      <header class="page-head">
        <div>
          <h1>{{ data.case.title }}: journal</h1>
          <p class="soft">{{ data.case.engine_words }}</p>
        </div>
        <div class="actions">
          <a
            class="el-button el-button--large"
            :href="`/api/cases/${id}/package/`"
            download
            data-test="export"
            ><span>Export case package</span></a
          >
        </div>
      </header>
      <section class="facts">
        <p><strong>Complaint</strong> {{ data.case.complaint || 'not recorded' }}</p>
        <p><strong>Tried by the shop</strong> {{ data.visit.tried || 'not recorded' }}</p>
        <p v-if="data.case.signs.length"><strong>The driver says</strong> {{ data.case.signs.join(', ') }}</p>
        <p><strong>Work done before</strong> {{ data.case.work_done.join('; ') || 'none recorded' }}</p>
        <p>
          <strong>Codes</strong>
          <span class="number">{{ data.case.codes.map((c) => c.code).join(' ') || 'none recorded' }}</span>
        </p>
      </section>
      <h2>Who did what, when</h2>
      <ol>
        <li v-for="(entry, i) in data.case.journal" :key="i">
          <span class="number small soft">{{ whenInWords(entry.at) }}</span>
          <span>{{ entry.by }}</span>
          <span
            ><strong>{{ entry.verb }}</strong
            ><template v-if="entry.detail">: {{ entry.detail }}</template></span
          >
        </li>
      </ol>
    </template>
  </div>
</template>

<style scoped>
.facts {
  border-left: 5px solid var(--ink);
  padding-left: 14px;
  margin-bottom: 24px;
}
.facts strong {
  display: inline-block;
  min-width: 150px;
}
ol {
  list-style: none;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 230px 150px 1fr;
  gap: 12px;
  padding: 9px 0;
  border-bottom: 1px solid var(--rule-soft);
}
/* When and who in one line, what below it. */
@media (max-width: 899px) {
  li {
    grid-template-columns: 1fr auto;
    gap: 0 12px;
    overflow-wrap: anywhere;
  }
  li > :last-child {
    grid-column: 1 / -1;
  }
  .facts strong {
    display: block;
  }
}
</style>
