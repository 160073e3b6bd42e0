<script setup lang="ts">
import type { Schemas } from '@/api/client'

/** A test not taken: hatched, and it offers itself. */
defineProps<{ test: Schemas['Waiting'] }>()
</script>

<template>
  <section class="row" :aria-label="`${test.title}, not taken`" :data-test="`waiting-${test.test}`">
    <div class="about">
      <h3>{{ test.title }}</h3>
    </div>
    <div class="axis">
      <p class="offer">Not seen. {{ test.minutes }} min with {{ test.tools }}.</p>
    </div>
  </section>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: 148px 1fr;
  border-bottom: 1px solid var(--rule);
}
.about {
  padding: 8px 10px 8px 0;
}
h3 {
  font-size: 14px;
  font-weight: 600;
  line-height: 1.25;
}
.axis {
  background: repeating-linear-gradient(135deg, transparent 0 9px, var(--rule-soft) 9px 11px);
  display: flex;
  align-items: center;
  justify-content: center;
  min-height: 44px;
}
.offer {
  background: var(--work);
  padding: 2px 12px;
  font-size: 14px;
}
</style>
