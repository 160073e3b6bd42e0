<script setup lang="ts">
import { ElCheckbox, ElInputNumber, ElOption, ElSelect } from 'element-plus'
import { computed } from 'vue'
import { words } from '@/shared/words'
import ColumnPicture from './ColumnPicture.vue'
import LeadPicker from './LeadPicker.vue'
import { needsLead, OF_ONE_CYLINDER, reachOf, seenIn, stands, type ColumnUse } from './columnUse'

/** One column of the file: the whole of it as a picture, what it is, and what it came through. */
const use = defineModel<ColumnUse>({ required: true })
defineProps<{ attempts: readonly (readonly number[])[]; part: readonly [number, number] }>()

const UNITS = [
  's',
  'ms',
  'us',
  'V',
  'mV',
  'kV',
  'A',
  'mA',
  'Pa',
  'kPa',
  'bar',
  'psi',
  'rpm',
  'deg',
  '1',
] as const
const SURE = 0.9
const ofCylinder = computed(() => OF_ONE_CYLINDER.includes(use.value.role))
/** Roles, the probable ones first. */
const roles = computed(() => {
  const chances = new Map(use.value.guess.chances.map((c) => [c.role, c.chance]))
  return Object.entries(words.roles)
    .map(([key, label]) => ({ key, label, chance: chances.get(key) ?? 0 }))
    .sort((a, b) => b.chance - a.chance)
})
const percent = (chance: number) =>
  chance > 0.99 ? 'over 99 %' : chance < 0.01 ? '' : `${Math.round(100 * chance)} %`
const doubtful = computed(() => {
  const first = use.value.guess.chances[0]
  return !use.value.guess.remembered && !!first && first.role === use.value.role && first.chance < SURE
})
const reach = computed(() => reachOf(use.value))
</script>

<template>
  <li :data-test="`use-${use.column}`">
    <div class="seen">
      <span class="name"
        ><strong>{{ use.column }}</strong
        ><span class="small soft">{{ seenIn(use, attempts) }}</span></span
      >
      <column-picture
        :name="use.column"
        :values="use.guess.preview"
        :attempts="use.role === 'starter_current' ? attempts : []"
        :part="part"
      />
    </div>
    <div class="asked">
      <el-select v-model="use.role" :aria-label="`What ${use.column} is`">
        <el-option v-for="r in roles" :key="r.key" :value="r.key" :label="r.label">
          {{ r.label }}<span v-if="percent(r.chance)" class="soft"> · {{ percent(r.chance) }}</span>
        </el-option>
      </el-select>
      <span v-if="use.guess.remembered" class="small soft">{{ use.guess.remembered }}</span>
      <span v-else-if="doubtful" class="small"
        >or {{ words.roles[use.guess.chances[1]?.role ?? ''] ?? 'something else' }}? Check.</span
      >
    </div>
    <div v-if="use.role !== 'other'" class="asked">
      <el-select v-model="use.unit" :aria-label="`Unit of ${use.column}`" placeholder="unit">
        <el-option v-for="unit in UNITS" :key="unit" :value="unit" :label="unit" />
      </el-select>
      <span v-if="reach" class="small" data-test="reach"
        >{{ stands(use) ? 'stands at' : 'reaches' }} {{ reach }}</span
      >
    </div>
    <span v-else class="soft small">left out</span>
    <div class="asked">
      <lead-picker v-model="use" />
      <span v-if="needsLead(use) && use.lead?.per_volt == null" class="small soft"
        >Cylinders are compared by shares; no
        {{ use.role.endsWith('pressure') ? 'bar' : use.role === 'secondary_voltage' ? 'kV' : 'A' }} is
        told.</span
      >
      <span v-if="ofCylinder" class="sync">
        <label
          >cylinder
          <el-input-number
            v-model="use.cylinder"
            :min="1"
            :max="16"
            :controls="false"
            :aria-label="`Cylinder of ${use.column}`"
          />
        </label>
        <el-checkbox v-model="use.sync">is the sync</el-checkbox>
      </span>
    </div>
  </li>
</template>

<style scoped>
li {
  display: grid;
  grid-template-columns: minmax(260px, 1.4fr) minmax(190px, 1fr) 128px minmax(220px, 1fr);
  gap: 16px;
  align-items: start;
  padding: 10px 0;
  border-bottom: 1px solid var(--rule-soft);
}
.name {
  display: flex;
  justify-content: space-between;
  gap: 10px;
}
strong {
  overflow-wrap: anywhere;
}
.asked {
  display: grid;
  gap: 4px;
  padding-top: 22px;
}
.sync {
  display: flex;
  gap: 14px;
  align-items: center;
}
.sync .el-input-number {
  width: 58px;
}
@media (max-width: 899px) {
  li {
    grid-template-columns: 1fr 1fr;
  }
  .asked {
    padding-top: 0;
  }
}
</style>
