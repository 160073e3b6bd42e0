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
  /** One line: only its name and its figures. */
  folded?: boolean
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
/** Columns beyond which a unit in every cell would run into its neighbour: it stands once beside the name. */
const MOST_WITH_UNITS = 8
const many = computed(() => props.columns.length > MOST_WITH_UNITS)
const unit = computed(() => props.row.cells.find((c) => c.shown && c.unit !== '%')?.unit ?? '')
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
    :class="{ struck, folded, many, doubted: row.doubted !== '' }"
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
        <small v-if="many && unit && named" class="soft" data-test="row-unit"> in {{ unit }}</small>
      </h3>
      <template v-if="!folded">
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
      </template>
    </div>
    <div class="axis">
      <div v-if="row.strip && !folded" class="strip">
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
            }}<small v-if="cell.shown && cell.unit !== '%'" :class="{ 'visually-hidden': many }">
              {{ cell.unit }}</small
            ></span
          >
          <span v-if="cell.deviation !== null && !folded" class="scale" aria-hidden="true"
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

<style scoped src="./row.css"></style>
