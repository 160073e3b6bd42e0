<script setup lang="ts">
import { ElButton, ElCheckbox } from 'element-plus'
import { computed, watch } from 'vue'
import TradeText from '@/shared/TradeText.vue'
import type { Bench } from './useBench'

/** Cautions in view beside the check list; the others open below them. */
const SHOWN = 2

/** Where to clip on, what to make safe, and the check list that opens the way to cranking. */
const props = defineProps<{ state: Bench; busy: string }>()
const emit = defineEmits<{ go: [ticked: string[]]; watch: [ticked: string[]]; stop: []; keep: [] }>()
const ticked = defineModel<string[]>('ticked', { required: true })

const missing = computed(() => props.state.checks.filter((c) => !ticked.value.includes(c.id)))
const ready = computed(() => props.state.scope === 'connected' && missing.value.length === 0)
const recording = computed(() => ['recording', 'watching'].includes(props.state.stage))
const lost = computed(() => props.state.losses[0])
const captured = computed(() => ['captured', 'broken_off'].includes(props.state.stage))
const goWords = computed(() => {
  const again = ['captured', 'kept', 'broken_off'].includes(props.state.stage) ? ' again' : ''
  return props.state.cranks
    ? `Crank ${props.state.seconds} s${again}`
    : `Run and record ${props.state.seconds} s${again}`
})
// What the bench knows itself is ticked by itself.
watch(
  () => props.state.fuel_disabled,
  (off) => {
    ticked.value = off
      ? [...new Set([...ticked.value, 'fuel_off'])]
      : ticked.value.filter((t) => t !== 'fuel_off')
  },
  { immediate: true },
)
function lasted(seconds: number) {
  return seconds < 90 ? `${Math.round(seconds)} s` : `${(seconds / 60).toFixed(1)} min`
}
function tick(id: string, on: boolean) {
  ticked.value = on ? [...ticked.value, id] : ticked.value.filter((t) => t !== id)
}
</script>

<template>
  <section class="card" aria-labelledby="card-title">
    <h2 id="card-title"><trade-text :text="state.test_title" /></h2>
    <div class="verbs">
      <el-button
        v-if="captured"
        type="primary"
        class="big"
        :loading="busy === 'keep'"
        data-test="keep"
        @click="emit('keep')"
        >Keep capture <span class="keycap">k</span></el-button
      >
      <el-button v-if="recording" class="big" data-test="stop" @click="emit('stop')">Stop</el-button>
      <el-button
        v-else
        :type="captured ? 'default' : 'primary'"
        class="big"
        :disabled="!ready"
        :loading="busy === 'go'"
        data-test="go"
        @click="emit('go', ticked)"
        >{{ goWords }}</el-button
      >
      <el-button
        v-if="!state.cranks && !recording"
        class="big"
        :disabled="!ready"
        :loading="busy === 'watch'"
        data-test="watch"
        @click="emit('watch', ticked)"
        >Watch until it happens</el-button
      >
    </div>
    <p v-if="lost" class="alarm" role="alert" data-test="caught">
      <strong>Lost at {{ lost.at_s.toFixed(2) }} s on {{ lost.lead }}</strong
      >, after {{ lasted(state.watched_s ?? 0) }}. Touch nothing; keep it, then take every reading you can at
      once.
    </p>
    <p v-else-if="captured && state.watched_s" class="small" data-test="not-caught">
      Watched {{ lasted(state.watched_s) }}, nothing lost. That says only that it was not there.
    </p>
    <p v-if="!ready && !recording" class="small soft" data-test="not-ready">
      {{ state.scope !== 'connected' ? 'The scope is not connected.' : `Not ticked: ${missing[0]?.words}.` }}
    </p>
    <ol class="leads">
      <li v-for="lead in state.leads" :key="lead.channel">
        <span class="number">{{ lead.channel }}</span>
        <span
          ><trade-text :text="lead.place" /><span class="soft small">
            · range {{ lead.reach }} {{ lead.unit }}{{ lead.probe > 1 ? `, attenuated ×${lead.probe}` : ''
            }}{{ lead.sync ? ' · sync' : '' }}</span
          ></span
        >
      </li>
    </ol>
    <p v-for="caution in state.cautions.slice(0, SHOWN)" :key="caution" class="caution">
      <trade-text :text="caution" />
    </p>
    <details v-if="state.cautions.length > SHOWN" class="more">
      <summary data-test="more-cautions">{{ state.cautions.length - SHOWN }} more to heed</summary>
      <p v-for="caution in state.cautions.slice(SHOWN)" :key="caution" class="caution">
        <trade-text :text="caution" />
      </p>
    </details>
    <fieldset :disabled="recording">
      <legend>Before the engine turns</legend>
      <el-checkbox
        v-for="check in state.checks"
        :key="check.id"
        :model-value="ticked.includes(check.id)"
        :disabled="check.id === 'fuel_off'"
        :data-test="`tick-${check.id}`"
        @change="tick(check.id, Boolean($event))"
        >{{ check.words }}</el-checkbox
      >
    </fieldset>
  </section>
</template>

<style scoped>
.card {
  display: grid;
  gap: 7px;
  align-content: start;
}
.leads {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 6px;
}
.leads li {
  display: grid;
  grid-template-columns: 26px 1fr;
  line-height: 1.3;
}
.leads .number {
  font-weight: 700;
}
.caution {
  border-left: 4px solid var(--alarm);
  padding: 2px 10px;
  font-size: 14px;
}
.more summary {
  min-height: 30px;
  cursor: pointer;
  text-decoration: underline;
}
.more .caution {
  margin-bottom: 6px;
}
fieldset {
  border: 1px solid var(--rule);
  padding: 2px 12px 6px;
  margin: 0;
  display: grid;
}
legend {
  font-weight: 600;
  padding: 0 6px;
}
.el-checkbox {
  min-height: 30px;
  height: auto;
  margin: 0;
  white-space: normal;
}
.verbs {
  display: grid;
  gap: 8px;
}
.verbs .el-button {
  margin: 0;
}
.big {
  min-height: 56px;
  font-size: 17px;
}
.big .keycap {
  margin-left: 8px;
  border-color: currentcolor;
}
/* A thumb, not a pointer. */
@media (max-width: 899px) {
  .el-checkbox,
  .more summary {
    min-height: 44px;
  }
}
</style>
