<script setup lang="ts">
import { ElButton } from 'element-plus'
import { ref } from 'vue'
import { useIntervalFn } from '@vueuse/core'
import { client, unwrap, type Schemas } from '@/api/client'
import FileLines from './FileLines.vue'

/** Files that scope software saved in the watched folder. Shown only where a folder is set. */
const emit = defineEmits<{ choose: [name: string] }>()

const LOOK_MS = 2500
const box = ref<Schemas['Inbox'] | null>(null)
const { pause } = useIntervalFn(look, LOOK_MS, { immediateCallback: true })

async function look() {
  box.value = await unwrap(client.GET('/api/bench/inbox/')).catch(() => null)
  if (!box.value?.on) pause()
}
</script>

<template>
  <file-lines v-if="box?.on" title="In the inbox folder" :files="box.files" data-test="inbox">
    <template #none>
      <p class="small soft">Nothing waits. A file saved there appears here.</p>
    </template>
    <template #default="{ file }">
      <el-button :data-test="`inbox-${file.name}`" @click="emit('choose', file.name)">{{
        file.name
      }}</el-button>
    </template>
    <template #after="{ file }">
      <span class="small soft">{{ new Date(file.modified).toLocaleTimeString() }}</span>
    </template>
  </file-lines>
</template>
