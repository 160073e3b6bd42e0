<script setup lang="ts">
import { ElButton, ElMessageBox } from 'element-plus'

/** Whether the engine can start by itself. While fuel is disabled this stays in sight. */
const props = defineProps<{ state: string; note: string; may: boolean }>()
const emit = defineEmits<{ set: [state: 'enabled' | 'disabled', how: string] }>()

async function disable() {
  const asked = await ElMessageBox.prompt(
    'How was it disabled? Fuse, relay, connector or mode.',
    'Fuel disabled',
    {
      confirmButtonText: 'Record it',
      cancelButtonText: 'Cancel',
      inputPattern: /\S/,
      inputErrorMessage: 'Name the fuse, relay, connector or mode.',
    },
  ).then(
    (given) => given as { value: string },
    () => null,
  )
  if (asked) emit('set', 'disabled', asked.value)
}
async function enable() {
  const asked = await ElMessageBox.confirm(
    `It was: ${props.note}. Is everything back in place?`,
    'Fuel enabled again',
    {
      confirmButtonText: 'Record it',
      cancelButtonText: 'Not yet',
    },
  ).catch(() => null)
  if (asked) emit('set', 'enabled', props.note)
}
</script>

<template>
  <div class="fuel" data-test="fuel" :data-state="state">
    <template v-if="state === 'disabled'">
      <p class="warn">
        <strong class="block">Fuel is disabled.</strong> Re-enable before hand-over.<span
          class="small block"
          >{{ note }}</span
        >
      </p>
      <el-button v-if="may" @click="enable">Fuel re-enabled</el-button>
    </template>
    <el-button v-else-if="may" @click="disable">Record fuel disabled</el-button>
  </div>
</template>

<style scoped>
.fuel {
  display: flex;
  gap: 10px;
  align-items: center;
}
.warn {
  border: 2px solid var(--alarm);
  border-radius: 3px;
  padding: 3px 10px;
  color: var(--alarm-ink);
  line-height: 1.2;
  width: 218px;
  flex: none;
}
.block {
  display: block;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.fuel .el-button {
  padding: 8px 12px;
}
</style>
