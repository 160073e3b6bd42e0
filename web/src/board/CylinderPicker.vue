<script setup lang="ts">
/** Cylinders in firing order as buttons large enough for gloves. */
defineProps<{ order: readonly number[]; label: string }>()
const picked = defineModel<number[]>({ required: true })

function toggle(cylinder: number) {
  picked.value = picked.value.includes(cylinder)
    ? picked.value.filter((c) => c !== cylinder)
    : [...picked.value, cylinder]
}
</script>

<template>
  <div class="cylinders" role="group" :aria-label="label">
    <button
      v-for="cylinder in order"
      :key="cylinder"
      type="button"
      :aria-pressed="picked.includes(cylinder)"
      :data-test="`pick-${cylinder}`"
      @click="toggle(cylinder)"
    >
      {{ cylinder }}
    </button>
  </div>
</template>

<style scoped>
.cylinders {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
button {
  min-width: 48px;
  min-height: 48px;
  border: 1px solid var(--ink);
  background: var(--work);
  color: inherit;
  font: inherit;
  font-weight: 600;
  cursor: pointer;
}
button[aria-pressed='true'] {
  background: var(--ink);
  color: var(--work);
}
</style>
