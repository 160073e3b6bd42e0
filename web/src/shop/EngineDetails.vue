<script setup lang="ts">
import { ElFormItem, ElInput, ElInputNumber, ElOption, ElSelect } from 'element-plus'
import { computed } from 'vue'
import type { TypedEngine } from '@/intake/useEngineCheck'
import { grouped } from './useEngineRecord'

/** What else is known of an engine: wheel, ratio, injectors, coils that are shared, banks. All of it may stay empty. */
const engine = defineModel<TypedEngine>({ required: true })
const DRIVES = {
  saturated: 'Switched fully on',
  peak_and_hold: 'Peak and hold',
  boosted: 'Boosted, 65 to 150 V',
  piezo: 'Piezo',
  none: 'No injectors',
}
const coils = computed({
  get: () => grouped(engine.value.coil_pairs),
  set: (typed) => (engine.value.coil_pairs = typed),
})
const banks = computed({
  get: () => grouped(engine.value.banks),
  set: (typed) => (engine.value.banks = typed),
})
type Wheel = { teeth?: number; missing?: number; tdc1_deg_after_gap?: number }
const wheel = computed(() => (engine.value.crank_wheel ?? {}) as Wheel)
function turn(key: keyof Wheel, value: number | null | undefined) {
  const changed = { missing: 0, ...wheel.value, [key]: value ?? undefined }
  engine.value.crank_wheel = changed.teeth ? changed : undefined
}
</script>

<template>
  <section>
    <h3>More of the engine</h3>
    <div class="details">
      <el-form-item label="Compression ratio, to one">
        <el-input-number
          v-model="engine.compression_ratio"
          :controls="false"
          :min="2"
          :max="25"
          aria-label="Compression ratio"
          data-test="compression-ratio"
        />
      </el-form-item>
      <el-form-item label="Injector, ohm at 20 °C">
        <el-input-number
          v-model="engine.injector_ohms"
          :controls="false"
          :min="0.05"
          :max="1000"
          aria-label="Injector resistance"
          data-test="injector-ohms"
        />
      </el-form-item>
      <el-form-item label="Injectors are">
        <el-select
          v-model="engine.injector_drive"
          clearable
          placeholder="as usual"
          aria-label="Injector drive"
        >
          <el-option v-for="(words, key) in DRIVES" :key="key" :value="key" :label="words" />
        </el-select>
      </el-form-item>
      <el-form-item label="Wheel, teeth with the missing ones">
        <el-input-number
          :model-value="wheel.teeth ?? null"
          :controls="false"
          :min="1"
          :max="720"
          aria-label="Teeth of the crank wheel"
          data-test="wheel-teeth"
          @update:model-value="turn('teeth', $event)"
        />
      </el-form-item>
      <el-form-item label="of them missing">
        <el-input-number
          :model-value="wheel.missing ?? null"
          :controls="false"
          :min="0"
          :max="10"
          :disabled="!wheel.teeth"
          aria-label="Missing teeth"
          @update:model-value="turn('missing', $event)"
        />
      </el-form-item>
      <el-form-item label="TDC 1, degrees after the gap">
        <el-input-number
          :model-value="wheel.tdc1_deg_after_gap ?? null"
          :controls="false"
          :min="0"
          :max="360"
          :disabled="!wheel.teeth"
          aria-label="TDC 1 after the gap"
          @update:model-value="turn('tdc1_deg_after_gap', $event)"
        />
      </el-form-item>
      <el-form-item label="Shared coils">
        <el-input v-model="coils" placeholder="1 4 / 2 3" aria-label="Shared coils" />
      </el-form-item>
      <el-form-item label="Banks">
        <el-input v-model="banks" placeholder="1 2 3 / 4 5 6" aria-label="Banks" />
      </el-form-item>
    </div>
  </section>
</template>

<style scoped>
.details {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: 4px 18px;
}
.el-input-number {
  width: 100%;
}
</style>
