<script setup lang="ts">
import { useRoute } from 'vue-router'
import { defineAsyncComponent, computed } from 'vue'

/** What the shop knows beside its cases: engines, known goods, codes, sums, and what its own record taught. */
const PARTS = {
  engines: { words: 'Engines', view: defineAsyncComponent(() => import('./EngineShelf.vue')) },
  goods: { words: 'Known goods', view: defineAsyncComponent(() => import('./KnownGoods.vue')) },
  learned: { words: 'Learned here', view: defineAsyncComponent(() => import('./LearnedLines.vue')) },
  codes: { words: 'Codes', view: defineAsyncComponent(() => import('./CodeBook.vue')) },
  sums: { words: 'Calculators', view: defineAsyncComponent(() => import('./CalculatorShelf.vue')) },
}
const route = useRoute()
const open = computed(() =>
  typeof route.params.part === 'string' && route.params.part in PARTS
    ? (route.params.part as keyof typeof PARTS)
    : 'engines',
)
</script>

<template>
  <div class="page">
    <h1>What the shop knows</h1>
    <nav class="parts" aria-label="Parts of what the shop knows">
      <router-link
        v-for="(part, key) in PARTS"
        :key="key"
        :to="{ path: `/shop/${key}`, query: route.query }"
        :aria-current="open === key ? 'page' : undefined"
        :class="{ on: open === key }"
        :data-test="`part-${key}`"
        >{{ part.words }}</router-link
      >
    </nav>
    <component :is="PARTS[open].view" />
  </div>
</template>

<style scoped>
.parts {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  margin: 8px 0 16px;
  border-bottom: 2px solid var(--ink);
}
.parts a {
  padding: 12px 16px;
  color: inherit;
  text-decoration: none;
  min-height: 44px;
}
.parts a.on {
  background: var(--ink);
  color: var(--work);
  font-weight: 600;
}
</style>
