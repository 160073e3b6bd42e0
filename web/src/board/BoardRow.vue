<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import CycleStrip from './CycleStrip.vue'
import type { Column, Row } from './useBoard'

/** One test on the shared axis: its averaged cycle, and under each cylinder number, deviation and state. */
const props = defineProps<{
  row: Row
  columns: readonly Column[]
  picked: number | null
  /** What became of a cylinder since the repair the row was taken after. */
  changes: Readonly<Record<number, Schemas['Change']>>
  /** State of the vehicle it was taken in, in words; empty as it arrived. */
  phase: string
  /** Lowest and highest of its averaged cycle and of those it stands beside. */
  scale?: readonly [number, number]
  mayWithdraw: boolean
}>()
const emit = defineEmits<{ open: [row: Row]; pick: [cylinder: number]; withdraw: [row: Row] }>()

const struck = computed(() => props.row.withdrawn || !props.row.usable)
const named = computed(() => props.row.assigned && props.row.cells.some((c) => c.shown))
const notes = computed(() =>
  props.row.reasons.filter(
    (r) =>
      (props.row.usable && !props.row.withdrawn) ||
      r.blocking ||
      !props.row.reasons.some((one) => one.blocking),
  ),
)
const place = (i: number) => ({
  left: `${100 * (props.columns[i]?.start ?? 0)}%`,
  width: `${100 * (props.columns[i]?.width ?? 0)}%`,
})
/** Bar from the peers' level: 50 points of deviation fill half the cell. */
const bar = (deviation: number | null) => {
  const share = Math.max(-1, Math.min(1, (deviation ?? 0) / 1))
  return share < 0 ? { right: '50%', width: `${-50 * share}%` } : { left: '50%', width: `${50 * share}%` }
}
</script>

<template>
  <section
    class="row"
    :class="{ struck, doubted: row.doubted !== '' }"
    :aria-label="row.title"
    :data-test="`row-${row.test}`"
    :data-usable="row.usable"
  >
    <div class="about">
      <h3>
        <button
          v-if="row.capture"
          type="button"
          :title="`Open the traces of ${row.title}`"
          @click="emit('open', row)"
        >
          {{ row.title }}
        </button>
        <span v-else>{{ row.title }}</span>
      </h3>
      <p v-if="phase" class="small phase" data-test="row-phase">{{ phase }}</p>
      <p v-for="line in row.about" :key="line" class="small soft">{{ line }}</p>
      <p v-if="row.withdrawn" class="small alarm"><strong>Withdrawn</strong></p>
      <p v-else-if="!row.usable && notes.some((note) => note.blocking)" class="small alarm">
        <strong>Not used</strong>
      </p>
      <p v-if="row.doubted" class="small doubt" data-test="doubted">{{ row.doubted }}</p>
      <button
        v-if="mayWithdraw && !row.withdrawn"
        type="button"
        class="quiet small"
        @click="emit('withdraw', row)"
      >
        Withdraw
      </button>
    </div>
    <div class="axis">
      <div v-if="row.strip" class="strip">
        <cycle-strip :strip="row.strip" :title="row.title" :scale="scale" />
      </div>
      <template v-if="named">
        <button
          v-for="(cell, i) in row.cells"
          :key="cell.cylinder"
          type="button"
          class="cell"
          :class="[cell.state, { picked: picked === cell.cylinder, bare: !row.strip }]"
          :style="place(i)"
          :title="cell.statement"
          :data-test="`cell-${row.test}-${cell.cylinder}`"
          :data-state="cell.state"
          :data-value="cell.shown"
          @click="emit('pick', cell.cylinder)"
        >
          <span class="figure number"
            >{{ cell.shown || '–'
            }}<small v-if="cell.shown && cell.unit !== '%'"> {{ cell.unit }}</small></span
          >
          <span v-if="cell.deviation !== null" class="scale" aria-hidden="true"
            ><span class="bar" :style="bar(cell.deviation)"></span
          ></span>
          <span
            v-if="changes[cell.cylinder] && changes[cell.cylinder]?.change !== 'even'"
            class="word"
            :class="{ cured: changes[cell.cylinder]?.change === 'gone' }"
            :data-test="`change-${row.test}-${cell.cylinder}`"
            >{{ changes[cell.cylinder]?.words }}</span
          >
          <span v-else class="word">{{ cell.word === 'even' ? '' : cell.word }}</span>
          <span class="visually-hidden">{{ cell.statement || `Cylinder ${cell.cylinder}` }}</span>
        </button>
      </template>
      <p v-else-if="row.overall" class="overall" data-test="overall">{{ row.overall }}</p>
      <div v-if="notes.length || row.withdrawn" class="notes small">
        <p v-if="row.withdrawn" class="alarm">Withdrawn: {{ row.withdrawn_reason }}</p>
        <p v-for="note in notes" :key="note.statement" :class="{ alarm: note.blocking }">
          {{ note.statement }}
        </p>
      </div>
    </div>
  </section>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: 148px 1fr;
  border-bottom: 1px solid var(--rule);
}
.about {
  padding: 8px 10px 8px 0;
}
h3 {
  font-size: 1rem;
  line-height: 1.25;
}
h3 button {
  all: unset;
  cursor: pointer;
  min-height: 44px;
  text-decoration: underline;
  text-underline-offset: 3px;
}
h3 button:focus-visible {
  outline: 3px solid var(--alarm);
}
.axis {
  position: relative;
  min-height: 64px;
  padding-bottom: 2px;
}
.strip {
  height: 64px;
  margin: 8px 0 2px;
  pointer-events: none;
}
.axis {
  display: grid;
}
.cell {
  grid-row: 2;
  grid-column: 1;
  justify-self: start;
  position: relative;
  height: 54px;
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  padding: 2px 4px;
  cursor: pointer;
  display: flex;
  flex-direction: column;
  align-items: center;
}
.figure {
  font-size: 1.05rem;
}
.figure small {
  font-size: 14px;
}
.cell.low .figure,
.cell.absent .figure,
.cell.abnormal .figure,
.cell.high .figure {
  font-weight: 600;
  color: var(--alarm-ink);
  font-size: 1.25rem;
  line-height: 1.1;
}
.scale {
  position: relative;
  width: min(88%, 120px);
  height: 7px;
  background: var(--rule-soft);
}
.scale::after {
  content: '';
  position: absolute;
  left: 50%;
  top: -3px;
  height: 13px;
  border-left: 2px solid var(--ink);
}
.bar {
  position: absolute;
  top: 0;
  height: 100%;
  background: var(--trace);
}
.low .bar,
.absent .bar,
.abnormal .bar {
  background: var(--alarm);
}
.word {
  font-size: 14px;
  line-height: 1.15;
  font-weight: 600;
  color: var(--alarm-ink);
}
.word.cured {
  color: var(--ink);
}
.phase {
  border-left: 3px solid var(--ink);
  padding-left: 6px;
  font-weight: 600;
}
.picked {
  box-shadow: inset 0 -3px 0 var(--ink);
}
.overall,
.notes {
  grid-row: 3;
  padding: 2px 4px 6px;
}
.notes p {
  width: fit-content;
  background: var(--work);
  padding: 0 4px;
}
.overall {
  grid-row: 2;
  width: fit-content;
  align-self: start;
  background: var(--work);
  font-weight: 600;
}
.doubted .axis {
  background: repeating-linear-gradient(135deg, transparent 0 14px, var(--rule-soft) 14px 16px);
}
.doubt {
  border-left: 3px dashed var(--ink);
  padding-left: 6px;
  margin: 4px 0;
}
.struck .strip,
.struck .cell,
.struck h3 {
  text-decoration: line-through;
  opacity: 0.75;
}
.struck .axis {
  background: repeating-linear-gradient(0deg, transparent 0 27px, var(--rule) 27px 28px);
}
.struck .notes {
  background: var(--work);
}
</style>
