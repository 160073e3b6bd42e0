<script setup lang="ts">
/** Below the board: tests not shown, and the keys. */
defineProps<{ more: number; folded: number }>()
const all = defineModel<boolean>({ required: true })
const unfolded = defineModel<boolean>('unfolded', { required: true })
</script>

<template>
  <p class="foot small soft">
    <button v-if="more > 0" type="button" class="outlined" @click="all = !all">
      {{ all ? 'Show fewer tests' : `Show ${more} more tests not taken` }}
    </button>
    <button v-if="folded > 0" type="button" class="outlined" data-test="unfold" @click="unfolded = !unfolded">
      {{ unfolded ? 'One line for what is even' : `Show ${folded} even tests in full` }}
    </button>
    <span class="keycap">1</span> to <span class="keycap">9</span> picks a cylinder,
    <span class="keycap">Enter</span> opens traces, <span class="keycap">n</span> next test,
    <span class="keycap">?</span> all keys
  </p>
</template>

<style scoped src="./board.css"></style>
