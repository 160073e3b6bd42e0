<script setup lang="ts">
import { ElButton, ElCheckbox, ElInputNumber, ElOption, ElSelect } from 'element-plus'
import { computed, ref } from 'vue'
import { commonValue, nextCell } from './gridMoves'
import type { Form, Values } from './forms'
import { laidOut } from './pasted'

/** The table of a form: a row per reading, a column per cylinder; a meter in one hand, number keys under the other. */
const props = defineProps<{ form: Form; order: readonly number[]; values: Values }>()
const emit = defineEmits<{ through: [] }>()
const table = ref<HTMLElement | null>(null)
const wide = computed(() => (props.form.rows.some((row) => row.options.length) ? 120 : 88))
const said = ref('')

/** Rows that hold plain numbers, as a spreadsheet has them. */
const numeric = computed(() => props.form.rows.filter((row) => !row.tick && !row.options.length))
function paste(event: ClipboardEvent) {
  const found = laidOut(event.clipboardData?.getData('text/plain') ?? '', numeric.value, props.order)
  if (!found) return
  event.preventDefault()
  for (const [key, row] of Object.entries(found.values)) Object.assign(props.values[key]!, row)
  said.value = found.said || 'Filled from what was copied.'
}

/** Rows of which one value can be given to all cylinders still empty. */
const common = computed(() =>
  Object.fromEntries(
    props.form.rows.map((row) => [row.key, commonValue(props.values[row.key] ?? {}, props.order)]),
  ),
)
function sameForOthers(key: string) {
  const value = common.value[key]
  for (const c of props.order) props.values[key]![c] ||= value
  said.value = `${String(value === true ? 'ticked' : value)} for all others.`
}

/** Arrow keys go between rows and Enter goes on, instead of counting the number up and down. */
function move(event: KeyboardEvent) {
  if (!['Enter', 'ArrowUp', 'ArrowDown'].includes(event.key)) return
  const cell = (event.target as Element).closest<HTMLElement>('[data-row]')
  if (!cell || cell.querySelector('.el-select')) return
  event.preventDefault()
  event.stopPropagation()
  const at = { row: Number(cell.dataset.row), column: Number(cell.dataset.column) }
  const to = nextCell(at, event.key, event.shiftKey, props.form.rows.length, props.order.length)
  // What was typed counts once the field is left.
  ;(document.activeElement as HTMLElement | null)?.blur()
  if (to)
    table.value
      ?.querySelector<HTMLInputElement>(`[data-row="${to.row}"][data-column="${to.column}"] input`)
      ?.focus()
  else emit('through')
}
</script>

<template>
  <div>
    <div
      ref="table"
      class="grid"
      :data-test="`grid-${form.test}`"
      :style="{ gridTemplateColumns: `auto repeat(${order.length}, ${wide}px) auto` }"
      @paste.capture="paste"
      @keydown.capture="move"
    >
      <span></span>
      <strong v-for="cylinder in order" :key="cylinder" class="number">{{ cylinder }}</strong>
      <span></span>
      <template v-for="(row, r) in form.rows" :key="row.key">
        <span class="small">{{ row.words }}</span>
        <div v-for="(cylinder, c) in order" :key="cylinder" :data-row="r" :data-column="c" class="cell">
          <el-checkbox
            v-if="row.tick"
            :model-value="values[row.key]![cylinder] === true"
            :aria-label="`${row.words}, cylinder ${cylinder}`"
            @update:model-value="values[row.key]![cylinder] = $event === true"
          />
          <el-select
            v-else-if="row.options.length"
            v-model="values[row.key]![cylinder] as string"
            clearable
            placeholder=""
            :aria-label="`${row.words}, cylinder ${cylinder}`"
            :data-test="`pick-${form.test}-${cylinder}`"
          >
            <el-option v-for="o in row.options" :key="o.value" :value="o.value" :label="o.words" />
          </el-select>
          <el-input-number
            v-else
            v-model="values[row.key]![cylinder] as number"
            :controls="false"
            inputmode="decimal"
            :aria-label="`${row.words}, cylinder ${cylinder}`"
          />
        </div>
        <el-button
          text
          :disabled="common[row.key] === undefined"
          :class="{ idle: common[row.key] === undefined }"
          :data-test="`same-${row.key}`"
          @click="sameForOthers(row.key)"
          >Same for all others</el-button
        >
      </template>
    </div>
    <p v-if="numeric.length" class="small soft keys">
      Enter goes on to the next cylinder, arrows up and down change the row. Cells copied from a spreadsheet
      can be pasted.
    </p>
    <p v-if="said" class="small" data-test="pasted" aria-live="polite">{{ said }}</p>
  </div>
</template>

<style scoped>
.grid {
  display: grid;
  gap: 6px 8px;
  align-items: center;
}
.grid strong {
  text-align: center;
  font-size: 1.1rem;
}
.cell {
  display: flex;
  justify-content: center;
}
.idle {
  visibility: hidden;
}
.el-input-number,
.el-select {
  width: 100%;
}
.el-checkbox {
  min-height: 44px;
  min-width: 44px;
  justify-content: center;
}
.el-checkbox :deep(.el-checkbox__inner) {
  width: 28px;
  height: 28px;
}
.el-checkbox :deep(.el-checkbox__inner::after) {
  width: 8px;
  height: 15px;
  left: 9px;
  top: 2px;
}
.keys {
  max-width: 62ch;
}
/* Where a finger taps there are no arrows and nothing to paste from. */
@media (max-width: 899px) {
  .keys {
    display: none;
  }
}
</style>
