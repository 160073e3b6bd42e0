<script setup lang="ts">
import { ElButton } from 'element-plus'
import { ref } from 'vue'
import { useIntervalFn } from '@vueuse/core'
import { client, unwrap, type Schemas } from '@/api/client'

/** Files that scope software saved in the watched folder. Shown only where a folder is set. */
const emit = defineEmits<{ choose: [name: string] }>()

const LOOK_MS = 2500
const box = ref<Schemas['Inbox'] | null>(null)
const { pause } = useIntervalFn(look, LOOK_MS, { immediateCallback: true })

async function look() {
  box.value = await unwrap(client.GET('/api/bench/inbox/')).catch(() => null)
  if (!box.value?.on) pause()
}
const size = (bytes: number) =>
  bytes < 1e6 ? `${Math.max(1, Math.round(bytes / 1e3))} kB` : `${(bytes / 1e6).toFixed(1)} MB`
</script>

<template>
  <div v-if="box?.on" class="inbox" data-test="inbox">
    <h3>In the inbox folder</h3>
    <p v-if="!box.files.length" class="small soft">Nothing waits. A file saved there appears here.</p>
    <ul>
      <li v-for="f in box.files" :key="f.name">
        <el-button :data-test="`inbox-${f.name}`" @click="emit('choose', f.name)">{{ f.name }}</el-button>
        <span class="small soft">{{ size(f.size) }}, {{ new Date(f.modified).toLocaleTimeString() }}</span>
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
