<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { client, unwrap, type Schemas } from '@/api/client'
import { toProblem, type Problem } from '@/api/problems'
import ProblemNote from '@/shared/ProblemNote.vue'
import { whenInWords } from '@/shared/words'
import { sizeInWords } from './size'

/** Disk, backups, the last check and the last errors, for whoever keeps the machine. */
const house = ref<Schemas['House'] | null>(null)
const problem = ref<Problem | null>(null)
const lines = computed(() => {
  const now = house.value
  if (!now) return []
  return [
    {
      name: 'Evidence',
      says: now.last_check
        ? `${now.changed.length ? `${now.changed.length} changed` : 'intact'}, checked ${whenInWords(now.last_check)}`
        : 'not checked yet',
      bad: now.changed.length > 0,
    },
    {
      name: 'Backup',
      says: !now.backups_into
        ? 'none: name a folder in FAIRWITNESS_BACKUPS'
        : now.last_backup
          ? `${whenInWords(now.last_backup)}, into ${now.backups_into}`
          : `none yet, into ${now.backups_into}`,
      bad: !now.last_backup,
    },
    {
      name: 'Disk',
      says: `${sizeInWords(now.free_bytes)} free, the data take ${sizeInWords(now.database_bytes)}`,
      bad: now.room_low,
    },
    { name: 'Version', says: now.version, bad: false },
  ]
})
onMounted(async () => {
  try {
    house.value = await unwrap(client.GET('/api/house/'))
  } catch (fault) {
    problem.value = toProblem(fault)
  }
})
</script>

<template>
  <section v-if="house" data-test="house">
    <h2>How the house stands</h2>
    <dl class="house">
      <template v-for="line in lines" :key="line.name">
        <dt>{{ line.name }}</dt>
        <dd :class="{ bad: line.bad }">{{ line.says }}</dd>
      </template>
    </dl>
    <ul v-if="house.changed.length" class="bad">
      <li v-for="what in house.changed" :key="what">{{ what }}</li>
    </ul>
    <details v-if="house.last_errors.length">
      <summary>{{ house.last_errors.length }} errors lately</summary>
      <ul>
        <li v-for="error in house.last_errors" :key="error.at + error.number">
          {{ whenInWords(error.at) }}, number <span class="number">{{ error.number }}</span>: {{ error.what }}
        </li>
      </ul>
    </details>
  </section>
  <problem-note :problem="problem" />
</template>

<style scoped>
h2 {
  margin-top: 28px;
}
.house {
  display: grid;
  grid-template-columns: 110px 1fr;
  gap: 6px 12px;
  margin: 8px 0;
}
dt {
  color: var(--ink-soft);
}
dd {
  margin: 0;
  overflow-wrap: anywhere;
}
.bad {
  color: var(--alarm-ink);
  font-weight: 600;
}
summary {
  min-height: 44px;
  display: flex;
  align-items: center;
  cursor: pointer;
}
</style>
