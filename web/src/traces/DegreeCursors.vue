<script setup lang="ts">
import { ElButton, ElInputNumber } from 'element-plus'
import { computed } from 'vue'

/** Two cursors in crank degrees within a cycle, and what the drawn lines say at them. */
const props = defineProps<{
  /** One entry per line: what it is, and its value at a crank angle. */
  lines: readonly { words: string; at: (degrees: number) => number | undefined }[]
  unit: string
  /** Crank angle at which the picture begins. */
  lead: number
  rpm: number
}>()
const cursors = defineModel<[number | null, number | null]>({ required: true })

const apart = computed(() =>
  cursors.value[0] !== null && cursors.value[1] !== null
    ? Math.abs(cursors.value[1] - cursors.value[0])
    : null,
)
const readings = computed(() =>
  props.lines
    .map((line) => ({
      words: line.words,
      values: cursors.value.map((c) => (c === null ? undefined : line.at(c))),
    }))
    .filter((line) => line.values.some((value) => value !== undefined)),
)
const show = (value: number | undefined) => (value === undefined ? '' : value.toPrecision(4))
function set(which: 0 | 1, value: number | null | undefined) {
  const next: [number | null, number | null] = [...cursors.value]
  next[which] = value === null || value === undefined ? null : value + props.lead
  cursors.value = next
}
</script>

<template>
  <section class="degrees" aria-label="Cursors in crank degrees">
    <div class="line">
      <label v-for="which in [0, 1] as const" :key="which" class="one">
        <strong>{{ 'AB'[which] }}</strong>
        <el-input-number
          :model-value="cursors[which] === null ? null : cursors[which]! - lead"
          :step="1"
          :precision="1"
          :controls="false"
          :aria-label="`Cursor ${'AB'[which]}, degrees of crank`"
          :data-test="`degrees-${'ab'[which]}`"
          @update:model-value="(v: number | undefined | null) => set(which, v)"
        />
        <span>°</span>
      </label>
      <span v-if="apart" class="number" data-test="degrees-apart"
        >{{ apart.toFixed(1) }}° apart<template v-if="rpm"
          >, {{ ((1000 * apart) / (6 * rpm)).toPrecision(4) }} ms</template
        ></span
      >
      <span v-for="r in readings" :key="r.words" class="number small" data-test="degree-reading"
        >{{ r.words }} {{ r.values.map(show).filter(Boolean).join(' → ') }} {{ unit
        }}<template v-if="r.values[0] !== undefined && r.values[1] !== undefined"
          >, {{ show(r.values[1] - r.values[0]) }}</template
        ></span
      >
      <el-button v-if="cursors[0] !== null || cursors[1] !== null" @click="cursors = [null, null]"
        >Take cursors away</el-button
      >
      <span v-else class="small soft">Click twice in the picture, or type degrees.</span>
    </div>
  </section>
</template>

<style scoped>
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 16px;
  align-items: center;
  min-height: 46px;
}
.one {
  display: flex;
  align-items: center;
  gap: 6px;
}
.one .el-input-number {
  width: 92px;
}
</style>
