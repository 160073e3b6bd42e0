<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'

/** Sentences that open what they stand on; a long list folds. */
const props = defineProps<{ sentences: readonly Schemas['Sentence'][]; shown?: number; empty?: string }>()
const emit = defineEmits<{ evidence: [findings: readonly string[]] }>()

const all = ref(false)
const limit = computed(() => props.shown ?? Infinity)
const told = computed(() => (all.value ? props.sentences : props.sentences.slice(0, limit.value)))
const more = computed(() => props.sentences.length - limit.value)
</script>

<template>
  <p v-if="!sentences.length && empty" class="soft">{{ empty }}</p>
  <p v-for="sentence in told" :key="sentence.text">
    <button v-if="sentence.findings.length" type="button" @click="emit('evidence', sentence.findings)">
      {{ sentence.text }}
    </button>
    <template v-else>{{ sentence.text }}</template>
  </p>
  <button v-if="more > 0" type="button" class="more" :aria-expanded="all" @click="all = !all">
    {{ all ? 'Fold up' : `${more} more` }}
  </button>
</template>

<style scoped>
p {
  margin-bottom: 3px;
}
p button {
  all: unset;
  cursor: pointer;
}
p button:hover {
  text-decoration: underline;
}
p button:focus-visible {
  outline: 3px solid var(--alarm);
}
.more {
  background: none;
  border: 0;
  padding: 0;
  min-height: 32px;
  color: var(--ink-soft);
  text-decoration: underline;
  cursor: pointer;
  font-size: 14px;
}
</style>
