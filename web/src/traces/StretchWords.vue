<script setup lang="ts">
import type { View } from './useTraces'

/** Which stretch is shown; a component of its own because it changes with every frame of a moving hand. */
defineProps<{ view: View; cycle: number; cycles: number }>()
</script>

<template>
  <span class="number" data-test="stretch"
    >{{ view.stretch.value.from.toFixed(2) }} to {{ view.stretch.value.to.toFixed(2) }} s<template
      v-if="cycle >= 0"
      >, cycle {{ cycle + 1 }} of {{ cycles }}</template
    ></span
  >
</template>
