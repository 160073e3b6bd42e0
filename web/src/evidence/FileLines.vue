<script setup lang="ts" generic="T extends { name: string; size: number }">
/** Files under a heading, a line each: what is said and done stands before and after its size. */
defineProps<{ title: string; files: readonly T[] }>()

const size = (bytes: number) =>
  bytes < 1e6 ? `${Math.max(1, Math.round(bytes / 1e3))} kB` : `${(bytes / 1e6).toFixed(1)} MB`
</script>

<template>
  <div>
    <h3>{{ title }}</h3>
    <slot v-if="!files.length" name="none" />
    <ul>
      <li v-for="f in files" :key="f.name">
        <slot :file="f" />
        <span class="small soft">{{ size(f.size) }}</span>
        <slot name="after" :file="f" />
      </li>
    </ul>
  </div>
</template>

<style scoped>
h3 {
  font-size: 1rem;
  margin: 12px 0 6px;
}
ul {
  list-style: none;
  padding: 0;
  margin: 0;
  display: grid;
  gap: 6px;
}
li {
  display: flex;
  gap: 12px;
  align-items: center;
}
</style>
