<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { whenInWords } from '@/shared/words'
import { dayInWords } from '@/visit/labour'

/** How far the case is: the states of the vehicle, what the last repair cured, and what is done next to it. */
const props = defineProps<{
  life: Schemas['Life']
  history: readonly Schemas['PastVisit'][]
  may: boolean
}>()
const emit = defineEmits<{
  work: [kind: 'changed_over' | 'after_repair']
  putBack: []
  found: []
  decide: []
  followedUp: [id: number]
}>()

const several = computed(() => props.life.phases.length > 1)
const looked = computed(() => props.life.changed_over.at(-1))
const proof = computed(() => props.life.repairs.at(-1))
const open = computed(() => props.life.follow_ups.filter((f) => !f.done))
</script>

<template>
  <section class="life" aria-label="Life of the case" data-test="life" :data-stage="life.stage">
    <div class="line">
      <p class="stage">
        Case <strong data-test="stage">{{ life.stage_words }}</strong>
      </p>
      <ol v-if="several" class="phases small">
        <li
          v-for="phase in life.phases"
          :key="phase.number"
          :aria-current="phase.number === life.phase ? 'step' : undefined"
          :title="`${phase.by}, ${whenInWords(phase.at)}${phase.note ? `: ${phase.note}` : ''}`"
          :data-test="`phase-${phase.number}`"
        >
          {{ phase.words }}
        </li>
      </ol>
      <p v-if="history[0]" class="small before" data-test="seen-before">
        <strong>Here before, {{ dayInWords(history[0].on) }}:</strong> {{ history[0].words }}
        <router-link v-if="history[0].case" :to="`/cases/${history[0].case}`">Open it</router-link>
      </p>
      <div v-if="may" class="do">
        <el-button v-if="life.misplaced.length" data-test="put-back" @click="emit('putBack')"
          >All parts put back</el-button
        >
        <el-button data-test="decide" @click="emit('decide')">Owner decided</el-button>
        <el-button data-test="change-over" @click="emit('work', 'changed_over')"
          >Parts changed over</el-button
        >
        <el-button data-test="repair-done" @click="emit('work', 'after_repair')">Repair done</el-button>
        <el-button v-if="life.repairs.length" data-test="found" @click="emit('found')"
          >What was found</el-button
        >
      </div>
    </div>
    <p v-if="life.decided" class="small" data-test="decided"><strong>Owner:</strong> {{ life.decided }}</p>
    <p
      v-if="proof"
      class="said"
      :class="{ proven: proof.status === 'proven', alarm: !['proven', 'open'].includes(proof.status) }"
      role="status"
      data-test="proof"
      :data-status="proof.status"
    >
      {{ proof.words }}
    </p>
    <p
      v-if="looked && looked.phase === life.phase"
      class="said"
      role="status"
      data-test="looked"
      :data-went="looked.went"
    >
      {{ looked.words }}
    </p>
    <p v-for="parts in life.misplaced" :key="parts.part" class="small" data-test="misplaced">
      <strong>Not where it belongs:</strong>
      <template v-for="(place, i) in parts.places" :key="place.cylinder"
        >{{ i ? ', ' : ' ' }}the {{ parts.part }} of {{ place.of }} is in {{ place.cylinder }}</template
      >.
    </p>
    <p v-for="outcome in life.outcomes" :key="outcome.at" class="small" data-test="outcome">
      <strong>Found:</strong> {{ outcome.found }} ({{ outcome.seen_by }}).
      {{ outcome.agreed ? 'As stated.' : `Not as stated: “${outcome.said}”` }}
      <template v-if="outcome.lesson">Lesson: {{ outcome.lesson }}</template>
    </p>
    <p v-for="f in open" :key="f.id" class="small" :class="{ alarm: f.overdue }" data-test="follow-up">
      <strong>{{ f.overdue ? 'Due' : 'Later' }}, {{ dayInWords(f.due) }}:</strong> {{ f.words }}
      <button v-if="may" type="button" class="quiet" @click="emit('followedUp', f.id)">Done</button>
    </p>
  </section>
</template>

<style scoped>
.life {
  padding: 4px 18px 6px;
  border-bottom: 1px solid var(--rule);
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  align-items: center;
}
.stage {
  margin: 0;
}
.phases {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  list-style: none;
  margin: 0;
  padding: 0;
}
.phases li {
  border: 1px solid var(--rule);
  padding: 2px 8px;
}
.phases li + li::before {
  content: 'then ';
  color: var(--soft);
}
.phases li[aria-current] {
  border: 2px solid var(--ink);
  font-weight: 600;
}
.before {
  flex: 1 1 320px;
  margin: 0;
}
.do {
  margin-left: auto;
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.do .el-button {
  margin: 0;
  min-height: 44px;
}
.said {
  margin: 4px 0;
  padding: 4px 10px;
  max-width: 110ch;
  font-weight: 600;
  border-left: 6px solid var(--rule);
}
.said.proven {
  border-left-color: var(--ink);
}
.said.alarm {
  border-left-color: var(--alarm);
}
.life > p.small {
  margin: 2px 0;
}
/* One row under the thumb, pushed aside where it is longer: the next test is to be seen below it. */
@media (max-width: 899px) {
  .do {
    flex-wrap: nowrap;
    max-width: 100%;
    margin-left: 0;
    overflow-x: auto;
  }
  .do .el-button {
    flex: none;
    padding: 8px 11px;
  }
}
</style>
