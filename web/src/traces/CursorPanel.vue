<script setup lang="ts">
import { ElButton, ElInput, ElInputNumber, ElMessage } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { client, unwrap, type Schemas } from '@/api/client'
import { toProblem, type Problem } from '@/api/problems'
import ProblemNote from '@/shared/ProblemNote.vue'
import { wordFor } from '@/shared/words'
import type { Cycles } from './useFolds'
import type { Capture } from './useTraces'

/** Two cursors and what lies between them, measured on the samples themselves. */
const props = defineProps<{ capture: Capture; cycles: Cycles | null; mayPin: boolean }>()
const a = defineModel<number | null>('a', { required: true })
const b = defineModel<number | null>('b', { required: true })

const readings = ref<(Schemas['Reading'] | null)[]>([])
const problem = ref<Problem | null>(null)
const note = ref('')
const apart = computed(() => (a.value !== null && b.value !== null ? Math.abs(b.value - a.value) : null))

watch(
  [a, b, () => props.capture.id],
  async (_now, _before, onCleanup) => {
    readings.value = []
    if (a.value === null || b.value === null || a.value === b.value) return
    const request = new AbortController()
    onCleanup(() => request.abort())
    const query = { from_s: a.value, to_s: b.value }
    try {
      readings.value = await Promise.all(
        props.capture.channels.map((c) =>
          unwrap(
            client.GET('/api/captures/{capture_id}/reading/{position}/', {
              params: { path: { capture_id: props.capture.id, position: c.position }, query },
              signal: request.signal,
            }),
          ),
        ),
      )
      problem.value = null
    } catch (fault) {
      if (!request.signal.aborted) problem.value = toProblem(fault)
    }
  },
  { immediate: true },
)
/** Crank angle of a moment, from the sync event of its cycle. */
function degrees(at: number | null): string {
  const c = props.cycles
  if (at === null || !c?.available) return ''
  const i = c.starts_s.findIndex((s, k) => at >= s && at < (c.ends_s[k] ?? s))
  if (i < 0) return ''
  const start = c.starts_s[i]!
  return `${((720 * (at - start)) / (c.ends_s[i]! - start)).toFixed(1)}°`
}
async function snap(which: 'a' | 'b', kind: 'edge' | 'peak') {
  const cursor = which === 'a' ? a : b
  if (cursor.value === null) return
  const channel = props.capture.channels.find((c) => !c.sync) ?? props.capture.channels[0]
  if (!channel) return
  const query = { at_s: cursor.value, reach_s: Math.max(0.002, props.capture.duration_s / 200), kind }
  try {
    const found = await unwrap(
      client.GET('/api/captures/{capture_id}/snap/{position}/', {
        params: { path: { capture_id: props.capture.id, position: channel.position }, query },
      }),
    )
    cursor.value = found.at_s
  } catch (fault) {
    problem.value = toProblem(fault)
  }
}
async function pin() {
  const data = {
    capture: props.capture.name,
    from_s: a.value,
    to_s: b.value,
    note: note.value,
    readings: props.capture.channels.map((c, i) => ({ channel: c.name, unit: c.unit, ...readings.value[i] })),
  }
  try {
    await unwrap(
      client.POST('/api/cases/{case_id}/observations/', {
        params: { path: { case_id: props.capture.case } },
        body: { test: 'note', data },
      }),
    )
    note.value = ''
    ElMessage({ message: 'Reading pinned to the case', type: 'success' })
  } catch (fault) {
    problem.value = toProblem(fault)
  }
}
const show = (value: number | undefined) => (value === undefined ? '' : value.toPrecision(4))
</script>

<template>
  <section class="cursors" aria-labelledby="cursor-title">
    <h2 id="cursor-title" class="visually-hidden">Cursors</h2>
    <problem-note :problem="problem" />
    <div class="line">
      <template v-for="which in ['a', 'b'] as const" :key="which">
        <label class="one">
          <strong>{{ which.toUpperCase() }}</strong>
          <el-input-number
            :model-value="which === 'a' ? a : b"
            :step="0.001"
            :precision="5"
            :controls="false"
            :aria-label="`Cursor ${which.toUpperCase()}, seconds`"
            :data-test="`cursor-${which}`"
            @update:model-value="
              (v: number | undefined | null) => (which === 'a' ? (a = v ?? null) : (b = v ?? null))
            "
          />
          <span class="number small">{{ degrees(which === 'a' ? a : b) }}</span>
        </label>
        <el-button :data-test="`snap-${which}`" @click="snap(which, 'edge')">To the edge</el-button>
        <el-button @click="snap(which, 'peak')">To the peak</el-button>
      </template>
      <p v-if="apart" class="number" data-test="apart">
        {{ (1000 * apart).toPrecision(5) }} ms · {{ (1 / apart).toPrecision(4) }} Hz ·
        {{ Math.round(60 / apart) }} turns a minute
      </p>
    </div>
    <table v-if="readings.length" class="figures">
      <thead>
        <tr>
          <th scope="col">Between the cursors</th>
          <th scope="col">first</th>
          <th scope="col">last</th>
          <th scope="col">difference</th>
          <th scope="col">lowest</th>
          <th scope="col">highest</th>
          <th scope="col">mean</th>
          <th scope="col">area</th>
          <th scope="col">slope</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(channel, i) in capture.channels" :key="channel.position" :data-test="`reading-${i}`">
          <th scope="row">{{ wordFor('roles', channel.role) }}, {{ channel.unit }}</th>
          <td>{{ show(readings[i]?.first) }}</td>
          <td>{{ show(readings[i]?.last) }}</td>
          <td>{{ readings[i] ? show(readings[i]!.last - readings[i]!.first) : '' }}</td>
          <td>{{ show(readings[i]?.low) }}</td>
          <td>{{ show(readings[i]?.high) }}</td>
          <td data-test="mean">{{ show(readings[i]?.mean) }}</td>
          <td>{{ show(readings[i]?.area) }} {{ channel.unit }}s</td>
          <td>{{ show(readings[i]?.slope) }} /s</td>
        </tr>
      </tbody>
    </table>
    <div v-if="readings.length && mayPin" class="line">
      <el-input
        v-model="note"
        placeholder="What does it show?"
        aria-label="Note to the reading"
        class="note"
      />
      <el-button data-test="pin" @click="pin">Pin this reading to the case</el-button>
    </div>
  </section>
</template>

<style scoped>
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  margin: 6px 0;
}
.line .el-button {
  margin: 0;
}
.one {
  display: flex;
  align-items: center;
  gap: 8px;
}
.one .el-input-number {
  width: 124px;
}
table {
  font-size: 14px;
}
th:not(:first-child),
td {
  text-align: right;
  padding: 5px 8px;
}
td {
  font-family: var(--numbers);
}
.note {
  width: 340px;
}
</style>
