<script setup lang="ts">
import { ElButton, ElMessageBox, ElSwitch } from 'element-plus'
import { computed } from 'vue'
import { client, unwrap, type Schemas } from '@/api/client'
import ProblemNote from '@/shared/ProblemNote.vue'
import { useAttempt } from '@/shared/useAttempt'
import { useLoaded } from '@/shared/useLoaded'
import { whenInWords } from '@/shared/words'
import { byKind, shownHere } from './learned'

/** Everything the shop's own outcomes and clocks taught, line by line: read, switched off, exported, forgotten. */
const { data, problem, reload } = useLoaded('learned', 'all', (_key, signal) =>
  unwrap(client.GET('/api/learned/', { signal })),
)
const { problem: refusal, busy, attempt } = useAttempt()
const groups = computed(() => byKind(data.value?.lines ?? []))
const use = (line: Schemas['LearnedLine'], on: boolean) =>
  attempt(async () => {
    data.value = await unwrap(client.POST('/api/learned/switch/', { body: { key: line.key, on } }))
  })
const reset = (again: boolean) =>
  attempt(async () => {
    data.value = await unwrap(client.POST('/api/learned/reset/', { body: { again } }))
  })
async function startAfresh() {
  const sure = await ElMessageBox.confirm(
    'What was found up to now teaches nothing any more. The outcomes themselves stay, and this can be taken back.',
    'Start afresh',
    { confirmButtonText: 'Start afresh', cancelButtonText: 'Leave it' },
  ).catch(() => null)
  if (sure) await reset(false)
}
</script>

<template>
  <problem-note :problem="problem" :retry="reload" />
  <problem-note :problem="refusal" />
  <template v-if="data">
    <p data-test="learned-from">
      Learned from <strong class="number">{{ data.outcomes }}</strong> outcomes<template v-if="data.since">
        since {{ whenInWords(data.since) }}</template
      >. What ships weighs as {{ data.weight }} cases beside them; no fault becomes more than
      {{ data.most }} times likelier or rarer. An outcome that all evidence of its case speaks against hardly
      counts.
    </p>
    <div class="actions">
      <a class="el-button el-button--large" href="/api/learned/export.csv" download>Export the lines</a>
      <el-button
        v-if="data.may && data.outcomes"
        :loading="busy"
        data-test="start-afresh"
        @click="startAfresh"
        >Start afresh</el-button
      >
      <el-button v-if="data.may && data.since" :loading="busy" data-test="count-again" @click="reset(true)"
        >Count what was before again</el-button
      >
    </div>
    <p v-if="!data.lines.length" class="soft">
      Nothing yet. Close cases with what was really found, and let the clock run while you test.
    </p>
    <section v-for="group in groups" :key="group.kind">
      <h2>{{ group.words }}</h2>
      <table :data-test="`learned-${group.kind}`">
        <thead>
          <tr class="small soft">
            <th></th>
            <td class="number">Ships</td>
            <td class="number">Here</td>
            <td>From</td>
            <td>Used</td>
          </tr>
        </thead>
        <tbody>
          <tr v-for="line in group.lines" :key="line.key" :data-test="line.key" :class="{ off: !line.on }">
            <th>{{ line.words }}</th>
            <td class="number soft">{{ shownHere(line.kind, line.shipped) }}</td>
            <td class="number">
              <strong>{{ shownHere(line.kind, line.here) }}</strong>
            </td>
            <td class="small">{{ line.from_what }}</td>
            <td>
              <el-switch
                :model-value="line.on"
                :disabled="!data.may || busy"
                :aria-label="`Use ${line.words}`"
                @update:model-value="use(line, $event as boolean)"
              />
            </td>
          </tr>
        </tbody>
      </table>
    </section>
  </template>
</template>

<style scoped>
table {
  width: 100%;
  border-collapse: collapse;
}
th,
td {
  text-align: left;
  padding: 4px 14px 4px 0;
  border-bottom: 1px solid var(--rule-soft);
  min-height: 44px;
}
th {
  font-weight: 600;
}
th::first-letter {
  text-transform: uppercase;
}
tr.off th,
tr.off strong {
  text-decoration: line-through;
}
h2 {
  margin: 20px 0 4px;
}
</style>
