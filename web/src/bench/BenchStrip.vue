<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'

/** What the bench does right now, large enough to be read from the engine, and how the vehicle is. */
const props = defineProps<{ state: Schemas['Bench'] }>()
const battery = computed(() => {
  const volts = props.state.battery_v
  return volts == null ? '' : `${volts.toFixed(2)} V${props.state.battery_low ? ', charge it' : ''}`
})
const starter = computed(() => {
  const heat = Math.round(100 * (props.state.starter_heat ?? 0))
  return heat < 5 ? 'cool' : heat > 75 ? `hot, ${heat} %: let it cool` : `warm, ${heat} %`
})
const clock = computed(() => {
  const s = props.state
  if (s.stage === 'watching') return `${Math.round(s.watched_s ?? 0)} s, nothing lost`
  return s.stage === 'recording' ? `${Math.min(s.elapsed_s, s.seconds).toFixed(1)} of ${s.seconds} s` : ''
})
/** Both are stand-ins that ship with the program; nobody shall take them for an instrument on a vehicle. */
const STAND_IN = 'stand-in, '
const SCOPE = { connected: 'connected', lost: 'lost', off: 'not connected' }
const scope = computed(() => STAND_IN + (SCOPE[props.state.scope as keyof typeof SCOPE] ?? SCOPE.off))
</script>

<template>
  <div class="strip">
    <p class="big" :class="{ alarm: state.losses.length }" role="status" data-test="big">{{ state.big }}</p>
    <p v-if="clock" class="clock number" data-test="clock">{{ clock }}</p>
    <dl>
      <div>
        <dt>Scope</dt>
        <dd>{{ scope }}</dd>
      </div>
      <div>
        <dt>Scan link</dt>
        <dd>{{ STAND_IN }}{{ state.scan_connected ? 'connected' : 'not connected' }}</dd>
      </div>
      <div>
        <dt>Fuel</dt>
        <dd :class="{ alarm: state.fuel_disabled }">{{ state.fuel_disabled ? 'disabled' : 'on' }}</dd>
      </div>
      <div>
        <dt>Battery</dt>
        <dd class="number" :class="{ alarm: state.battery_low }">{{ battery }}</dd>
      </div>
      <div>
        <dt>Starter</dt>
        <dd>{{ starter }}</dd>
      </div>
    </dl>
  </div>
</template>

<style scoped>
.strip {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 28px;
  border-top: 2px solid var(--ink);
  border-bottom: 1px solid var(--rule);
  padding: 10px 0;
}
.big {
  /* Read from the engine, two metres away. */
  font-size: clamp(2.3rem, 5vw, 4.4rem);
  font-weight: 700;
  line-height: 1;
}
.clock {
  font-size: 1.6rem;
}
dl {
  display: flex;
  gap: 24px;
  margin: 0 0 0 auto;
}
dt {
  font-size: 14px;
  color: var(--ink-soft);
}
dd {
  margin: 0;
  font-weight: 600;
}
</style>
