<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus'
import { computed } from 'vue'
import type { Choices } from './forms'

/** Where along a circuit it was measured: at one place, or from one to another nearer the driver. */
const props = defineProps<{ places: readonly string[]; between: boolean; choices: Choices }>()
const emit = defineEmits<{ put: [key: 'place' | 'place_to', place: string] }>()
const beyond = computed(() => props.places.slice(props.places.indexOf(props.choices['place'] ?? '') + 1))
</script>

<template>
  <div class="choice">
    <span class="small">{{ between ? 'From' : 'Place on the wire' }}</span>
    <el-select
      :model-value="choices['place']"
      :clearable="!between"
      placeholder="not noted"
      aria-label="Place along the circuit"
      data-test="place"
      @update:model-value="emit('put', 'place', $event ?? '')"
    >
      <el-option v-for="place in places" :key="place" :value="place" :label="place" />
    </el-select>
    <template v-if="between">
      <span class="small">to</span>
      <el-select
        :model-value="choices['place_to']"
        placeholder="nearer the driver"
        aria-label="The other place"
        data-test="place-to"
        @update:model-value="emit('put', 'place_to', $event)"
      >
        <el-option v-for="place in beyond" :key="place" :value="place" :label="place" />
      </el-select>
    </template>
  </div>
</template>

<style scoped>
.choice {
  display: flex;
  align-items: center;
  gap: 12px;
  margin: 8px 0;
}
.el-select {
  width: 240px;
}
</style>
