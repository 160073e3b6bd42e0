<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import type { Schemas } from '@/api/client'

/** Connecting the instruments, the fuel, and which instrument is looked at. */
const props = defineProps<{ state: Schemas['Bench']; busy: string; panel: 'scope' | 'scan' }>()
const emit = defineEmits<{ scope: [on: boolean]; scan: [on: boolean]; fuel: [on: boolean]; pull: [] }>()
const route = useRoute()
const connected = computed(() => props.state.scope === 'connected')
const scopeWords = computed(() =>
  connected.value
    ? 'Let go of the scope'
    : props.state.scope === 'lost'
      ? 'Connect the scope again'
      : 'Connect the scope',
)
</script>

<template>
  <div class="actions switches">
    <el-button
      :type="connected ? 'default' : 'primary'"
      :loading="busy === 'scope'"
      data-test="scope"
      @click="emit('scope', !connected)"
      >{{ scopeWords }}</el-button
    >
    <el-button :loading="busy === 'scan'" data-test="scan" @click="emit('scan', !state.scan_connected)">{{
      state.scan_connected ? 'Unplug the scan link' : 'Connect the scan link'
    }}</el-button>
    <el-button
      :loading="busy === 'fuel'"
      data-test="fuel-switch"
      @click="emit('fuel', state.fuel_disabled)"
      >{{ state.fuel_disabled ? 'Put the fuel back' : 'Disable the fuel' }}</el-button
    >
    <el-button v-if="connected" link data-test="pull" @click="emit('pull')">Pull the scope's plug</el-button>
    <nav class="segments panels" aria-label="Instrument">
      <router-link :to="{ query: { ...route.query, panel: undefined } }" :class="{ on: panel === 'scope' }"
        >Scope</router-link
      >
      <router-link
        :to="{ query: { ...route.query, panel: 'scan' } }"
        :class="{ on: panel === 'scan' }"
        data-test="scan-panel"
        >Scan link</router-link
      >
    </nav>
  </div>
</template>

<style scoped>
.switches {
  padding: 10px 0;
}
.switches .el-button {
  margin: 0;
}
.panels {
  margin-left: auto;
}
</style>
