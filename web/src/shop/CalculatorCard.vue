<script setup lang="ts">
import { ElButton, ElInputNumber } from 'element-plus'
import { client, unwrap, type Schemas } from '@/api/client'
import ProblemNote from '@/shared/ProblemNote.vue'
import { figure, useCalculator } from './useCalculator'

/** One sum of the trade: fill it in and it answers at once. */
const props = defineProps<{ calculator: Schemas['Calculator'] }>()
const { typed, found, problem, showExample } = useCalculator(props.calculator, (given) =>
  unwrap(
    client.POST('/api/calculators/{calculator}/', {
      params: { path: { calculator: props.calculator.id } },
      body: { given },
    }),
  ),
)
</script>

<template>
  <section class="card" :data-test="`calculator-${calculator.id}`" :aria-label="calculator.title">
    <h2>{{ calculator.title }}</h2>
    <p class="small soft">{{ calculator.needed }}</p>
    <label v-for="line in calculator.given" :key="line.key">
      <span>{{ line.words }} <em v-if="line.from_case !== null" class="small">case</em></span>
      <span class="entry">
        <el-input-number
          v-model="typed[line.key]"
          :controls="false"
          :value-on-clear="null"
          :aria-label="`${line.words} ${line.unit}`"
          :data-test="`given-${line.key}`"
        />
        <span class="unit number">{{ line.unit }}</span>
      </span>
    </label>
    <problem-note :problem="problem" />
    <dl aria-live="polite">
      <template v-for="line in calculator.found" :key="line.key">
        <dt>{{ line.words }}</dt>
        <dd class="number" :data-test="`found-${line.key}`">
          <strong>{{ found[line.key] === undefined ? '–' : figure(found[line.key]!) }}</strong>
          {{ line.unit }}
        </dd>
      </template>
    </dl>
    <p v-if="calculator.beware" class="small">{{ calculator.beware }}</p>
    <details>
      <summary>Formula, source and example</summary>
      <p class="number">{{ calculator.formula }}</p>
      <p class="small">{{ calculator.came_from }}</p>
      <el-button data-test="show-example" @click="showExample">Show the worked example</el-button>
    </details>
  </section>
</template>

<style scoped>
.card {
  border-top: 2px solid var(--ink);
  padding-top: 8px;
}
h2 {
  margin: 0;
}
label {
  display: grid;
  grid-template-columns: 1fr 170px;
  gap: 10px;
  align-items: center;
  min-height: 50px;
}
.entry {
  display: grid;
  grid-template-columns: 100px 1fr;
  gap: 6px;
  align-items: center;
}
.entry .el-input-number {
  width: 100px;
}
dl {
  display: grid;
  grid-template-columns: 1fr 170px;
  gap: 4px 10px;
  margin: 8px 0;
  padding: 8px 0;
  border-top: 1px solid var(--rule);
}
dd {
  margin: 0;
}
dd strong {
  font-size: 1.3rem;
}
summary {
  min-height: 44px;
  padding: 10px 0;
  cursor: pointer;
}
</style>
