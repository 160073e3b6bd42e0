<script setup lang="ts">
/** Below the board: tests not shown, where the case is handed on, and the keys. */
defineProps<{ caseId: number; more: number; folded: number }>()
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
  <p class="foot small hand-on" data-test="hand-on">
    <span class="soft">To hand on:</span>
    <router-link :to="`/cases/${caseId}/sheet`">the owner’s sheet</router-link>
    <router-link :to="`/cases/${caseId}/journal`">who did what</router-link>
    <a :href="`/api/cases/${caseId}/package/`" download data-test="export-here"
      >the whole case as a package</a
    >
  </p>
</template>

<style scoped src="./board.css"></style>
<style scoped>
.hand-on {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0 18px;
}
.hand-on a {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
}
</style>
