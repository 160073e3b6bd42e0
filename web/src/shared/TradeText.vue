<script setup lang="ts">
import { computed, ref, useId, watch } from 'vue'
import { explaining, inPieces } from './tradeWords'
import { words } from './words'

/** A sentence whose words of the trade say what they mean when pressed: below it, so that nothing is covered. */
const props = defineProps<{ text: string }>()
const pieces = computed(() =>
  explaining.value ? inPieces(props.text, words.trade_words) : [{ text: props.text }],
)
const asked = ref('')
const meaning = computed(() => pieces.value.find((piece) => piece.text === asked.value)?.meaning)
const id = useId()
watch(
  () => props.text,
  () => (asked.value = ''),
)
</script>

<template>
  <template v-for="(piece, i) in pieces" :key="i"
    ><button
      v-if="piece.meaning"
      type="button"
      class="trade-word"
      :aria-expanded="asked === piece.text"
      :aria-controls="id"
      @click="asked = asked === piece.text ? '' : piece.text"
    >
      {{ piece.text }}</button
    ><template v-else>{{ piece.text }}</template></template
  ><span v-if="meaning" :id="id" class="trade-meaning"
    ><strong>{{ asked }}:</strong> {{ meaning }}</span
  >
</template>

<style scoped>
.trade-word {
  all: unset;
  cursor: help;
  text-decoration: underline dotted 1.5px;
  text-underline-offset: 3px;
}
.trade-word:hover {
  text-decoration-style: solid;
}
.trade-word:focus-visible {
  outline: 3px solid var(--alarm);
}
.trade-meaning {
  display: block;
  border-left: 3px solid var(--ink);
  padding: 2px 0 2px 9px;
  margin: 3px 0;
  font-size: 14.5px;
  font-weight: 400;
  line-height: 1.35;
  color: var(--ink);
}
</style>
