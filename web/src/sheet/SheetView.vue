<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { useSession } from '@/app/session'
import ProblemNote from '@/shared/ProblemNote.vue'
import SheetLinks from './SheetLinks.vue'
import { addressesOf, chosenAfter, useSheet } from './useSheet'

/** The page the owner gets, as it will be printed; what stands on it, and how it is handed over. */
const route = useRoute()
const session = useSession()
const caseId = computed(() => Number(route.params.id))
const { data, problem, reload, refusal, busy, made, edition, shown, choose, makeLink, revoke } =
  useSheet(caseId)
const whole = ref(false)
const frame = ref<HTMLIFrameElement | null>(null)
const at = computed(() => addressesOf(caseId.value, whole.value))
const print = () => frame.value?.contentWindow?.print()
</script>

<template>
  <div class="page">
    <problem-note :problem="problem" :retry="reload" />
    <template v-if="data">
      <header class="page-head">
        <div>
          <h1>{{ data.title }}: owner’s sheet</h1>
          <p class="soft">One page in plain words. The annex holds every measurement behind it.</p>
        </div>
        <div class="actions">
          <el-button data-test="print" @click="print">Print</el-button>
          <a
            class="el-button el-button--large el-button--primary"
            :href="at.paper"
            target="_blank"
            data-test="pdf"
            >PDF</a
          >
        </div>
      </header>
      <div class="beside">
        <iframe
          :key="`${at.page} ${edition}`"
          ref="frame"
          :src="at.page"
          title="The sheet as it is printed"
          data-test="sheet-frame"
        ></iframe>
        <aside aria-label="What is handed over">
          <div class="segments" role="group" aria-label="How much">
            <button type="button" :aria-pressed="!whole" :class="{ on: !whole }" @click="whole = false">
              Sheet
            </button>
            <button
              type="button"
              :aria-pressed="whole"
              :class="{ on: whole }"
              data-test="whole"
              @click="whole = true"
            >
              With annex
            </button>
          </div>
          <section v-if="data.offered.length">
            <h2>Shown on it</h2>
            <p class="small soft">Up to two, beside the comparison of the cylinders.</p>
            <button
              v-for="one in data.offered"
              :key="one.reference"
              type="button"
              class="tick"
              :disabled="!data.may || busy"
              :aria-pressed="one.shown"
              data-test="shown"
              @click="choose(chosenAfter(shown, one.reference))"
            >
              {{ one.words || one.reference }}
            </button>
          </section>
          <p v-else class="small soft">
            Nothing to choose yet: keep a picture, or mark a stretch of a trace as a figure.
          </p>
          <problem-note :problem="refusal" />
          <sheet-links
            v-if="data.may_hand_over"
            :about="data"
            :made="made"
            :busy="busy"
            :whole="whole"
            @make="makeLink"
            @revoke="revoke"
          />
          <p class="small">
            <router-link :to="`/cases/${caseId}/options`">Ways to go on</router-link>
            <template v-if="session.state?.role === 'lead'"
              >, <router-link to="/workshop">letterhead and currency</router-link></template
            >
          </p>
        </aside>
      </div>
    </template>
  </div>
</template>

<style scoped>
.beside {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 300px;
  gap: 24px;
}
iframe {
  width: 100%;
  height: calc(100vh - 150px);
  min-height: 560px;
  border: 1px solid var(--rule);
  background: #fff;
}
h2 {
  margin: 18px 0 4px;
}
.tick {
  display: block;
  width: 100%;
  min-height: 48px;
  margin-top: 6px;
  padding: 4px 12px;
  border: 1px solid var(--ink);
  background: var(--work);
  color: inherit;
  font: inherit;
  text-align: left;
  cursor: pointer;
}
.tick[aria-pressed='true'] {
  background: var(--ink);
  color: var(--work);
}
@media (max-width: 899px) {
  .beside {
    grid-template-columns: 1fr;
  }
}
</style>
