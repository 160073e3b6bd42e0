<script setup lang="ts">
import { ElButton, ElDialog, ElRadioButton, ElRadioGroup } from 'element-plus'
import { ref } from 'vue'
import { toProblem, type Problem } from '@/api/problems'
import ProblemNote from '@/shared/ProblemNote.vue'
import { reloadAll } from '@/shared/useLoaded'
import { words } from '@/shared/words'
import { useSession } from './session'

/** The units somebody reads in; what was measured and kept stays as it is. */
const shown = defineModel<boolean>({ required: true })
const session = useSession()
const problem = ref<Problem | null>(null)

async function choose(quantity: string, unit: string) {
  problem.value = null
  try {
    await session.setUnits({ [quantity]: unit })
    await reloadAll()
  } catch (fault) {
    problem.value = toProblem(fault)
  }
}
</script>

<template>
  <el-dialog v-model="shown" title="Units" width="460px">
    <div v-for="quantity in words.units" :key="quantity.key" class="quantity" role="group">
      <span>{{ quantity.words }}</span>
      <el-radio-group
        :model-value="session.state?.units[quantity.key]"
        :aria-label="quantity.words"
        @change="(unit: unknown) => choose(quantity.key, String(unit))"
      >
        <el-radio-button
          v-for="(symbol, unit) in quantity.options"
          :key="unit"
          :value="unit"
          :data-test="`unit-${unit}`"
          >{{ symbol }}</el-radio-button
        >
      </el-radio-group>
    </div>
    <p class="soft small">
      They change what you read, never what was measured. Forms and files keep their own.
    </p>
    <problem-note :problem="problem" />
    <template #footer><el-button type="primary" @click="shown = false">Done</el-button></template>
  </el-dialog>
</template>

<style scoped>
.quantity {
  display: flex;
  align-items: center;
  gap: 12px;
  margin-bottom: 12px;
}
.quantity > span {
  min-width: 110px;
}
</style>
