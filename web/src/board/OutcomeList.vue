<script setup lang="ts">
import type { Schemas } from '@/api/client'
import type { Tick } from './useImagining'

/** What each outcome of a test would mean; a tick plays it through. */
const props = defineProps<{
  offer: Schemas['NextTest']
  ticked: (test: string, words: string) => boolean
}>()
const emit = defineEmits<{ tick: [tick: Tick] }>()

const play = (meaning: Schemas['Meaning']) =>
  emit('tick', {
    test: props.offer.id,
    title: props.offer.title,
    outcome: meaning.outcome,
    words: meaning.words,
    cylinders: meaning.cylinders.length ? meaning.cylinders : props.offer.cylinders,
  })
</script>

<template>
  <ul v-if="offer.meanings.length" class="outcomes" :aria-label="`What if: ${offer.title}`">
    <li v-for="meaning in offer.meanings" :key="meaning.words">
      <button
        type="button"
        :aria-pressed="ticked(offer.id, meaning.words)"
        :class="{ on: ticked(offer.id, meaning.words) }"
        :data-test="`what-if-${meaning.outcome}`"
        @click="play(meaning)"
      >
        <span class="box" aria-hidden="true">{{ ticked(offer.id, meaning.words) ? '×' : '' }}</span>
        <span class="if">{{ meaning.words }}</span>
        <span class="number">{{ Math.round(100 * meaning.chance) }} %</span>
        <span class="then">{{ meaning.then }}</span>
      </button>
    </li>
  </ul>
</template>

<style scoped>
.outcomes {
  list-style: none;
  margin: 4px 0;
  padding: 0;
}
button {
  display: grid;
  grid-template-columns: 22px 1fr auto;
  gap: 0 8px;
  align-items: center;
  width: 100%;
  min-height: 44px;
  padding: 3px 4px;
  border: 0;
  border-top: 1px solid var(--rule-soft);
  background: none;
  color: inherit;
  font: inherit;
  font-size: 14px;
  line-height: 1.25;
  text-align: left;
  cursor: pointer;
}
button:hover {
  background: var(--bench);
}
.on {
  background: var(--bench);
  outline: 2px dashed var(--ink);
  outline-offset: -2px;
}
.box {
  width: 20px;
  height: 20px;
  border: 2px solid var(--ink);
  display: grid;
  place-items: center;
  font-weight: 700;
  line-height: 1;
}
.if {
  font-weight: 600;
}
.then {
  grid-column: 2 / -1;
  color: var(--ink-soft);
}
</style>
