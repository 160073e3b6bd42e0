<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { minutesInWords, wordFor } from '@/shared/words'

/** One case of the yard, the whole line a link. */
defineProps<{ line: Schemas['CaseLine'] }>()
</script>

<template>
  <li>
    <router-link :to="`/cases/${line.id}`" class="line" :class="{ closed: line.status === 'closed' }">
      <span class="what">
        <strong>{{ line.vehicle || line.title }}</strong>
        <span class="small soft">{{ line.complaint || line.title }}</span>
      </span>
      <span class="cylinder number" :class="{ ill: line.cylinders.length, open: line.rivals.length }">
        {{ line.whole_engine ? 'all' : line.cylinders.join(' ') || line.rivals.join(' or ') || '·' }}
        <span class="visually-hidden">{{
          line.cylinders.length || line.rivals.length ? '' : 'no cylinder named'
        }}</span>
      </span>
      <span>
        {{ line.headline }}
        <span class="small soft block"
          >{{ wordFor('statuses', line.verdict_status)
          }}<template v-if="line.cylinders.length"
            >, {{ wordFor('causes', line.cause).toLowerCase() }}</template
          ></span
        >
      </span>
      <span class="small">
        <template v-if="line.status === 'closed'">closed</template>
        <template v-else>{{ line.waits_for }}</template>
        <strong v-if="line.fuel_state === 'disabled'" class="alarm block">Fuel is disabled</strong>
      </span>
      <span class="number small">{{ minutesInWords(line.minutes) }}</span>
    </router-link>
  </li>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: 2.1fr 92px 2.6fr 2fr 76px;
  gap: 14px;
  align-items: center;
  min-height: 68px;
  padding: 8px 12px;
  color: inherit;
  text-decoration: none;
  border-bottom: 1px solid var(--rule-soft);
}
.line:hover {
  background: var(--bench);
}
.closed {
  color: var(--ink-soft);
}
.what {
  display: flex;
  flex-direction: column;
  min-width: 0;
}
.what .small {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.cylinder {
  font-size: 1.7rem;
  font-weight: 600;
  align-self: stretch;
  display: flex;
  align-items: center;
  justify-content: center;
  margin: -8px 0;
}
.cylinder.ill {
  background: var(--stripe);
  color: var(--alarm-ink);
}
.cylinder.open {
  font-size: 1.2rem;
  border: 2px dashed var(--alarm);
  color: var(--alarm-ink);
}
.block {
  display: block;
}
@media (max-width: 899px) {
  .line {
    grid-template-columns: 72px minmax(0, 1fr);
    gap: 2px 12px;
  }
  .cylinder {
    grid-column: 1;
    grid-row: 1 / span 4;
  }
  .line > :not(.cylinder) {
    grid-column: 2;
  }
}
</style>
