<script setup lang="ts">
import { ElInputNumber, ElOption, ElSelect } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { needsLead, offersFor, sameLead, type ColumnUse } from './columnUse'

/** What a column came through on its way to the instrument. */
const use = defineModel<ColumnUse>({ required: true })

const OWN = 'own'
const STRAIGHT = 'straight'
const own = ref(false)
const offers = computed(() => offersFor(use.value))
/** What another one of the same kind is like. */
const like = computed(() => offers.value[0]?.lead)
const kind = computed(() => like.value?.kind ?? '')
const chosen = computed(() => {
  if (own.value) return OWN
  const at = offers.value.findIndex((o) => sameLead(o.lead, use.value.lead))
  return at >= 0 ? String(at) : use.value.lead ? OWN : needsLead(use.value) ? '' : STRAIGHT
})
/** Millivolts per ampere, or so many units per volt: as it stands on the label of the thing. */
const label = computed(() => (kind.value === 'clamp' ? 'mV per A' : `${like.value?.unit} per V`))
const onLabel = computed(() => {
  const gain = use.value.lead?.per_volt
  return gain == null ? undefined : kind.value === 'clamp' ? 1000 / gain : gain
})

function choose(value: string) {
  own.value = value === OWN
  if (value === STRAIGHT) use.value.lead = null
  else if (value !== OWN) use.value.lead = offers.value[Number(value)]?.lead ?? null
}
function enter(value: number | undefined, zero = use.value.lead?.zero_v ?? 0) {
  const gain = !value ? null : kind.value === 'clamp' ? 1000 / value : value
  if (like.value) use.value.lead = { ...like.value, per_volt: gain, zero_v: zero, reference: null }
}
/** Another role comes through another kind of lead: the one that fits its level alone, else an unknown one. */
watch(
  () => [use.value.role, use.value.unit],
  () => {
    own.value = false
    if (use.value.lead?.kind === kind.value) return
    const fitting = offers.value.filter((o) => o.fits)
    const unknown = offers.value.find((o) => o.lead.per_volt == null)
    use.value.lead = needsLead(use.value)
      ? ((fitting.length === 1 ? fitting[0] : unknown)?.lead ?? null)
      : null
  },
)
</script>

<template>
  <div v-if="offers.length" class="lead">
    <el-select :model-value="chosen" :aria-label="`What ${use.column} came through`" @change="choose">
      <el-option v-if="!needsLead(use)" :value="STRAIGHT" label="straight in" />
      <el-option v-for="(o, i) in offers" :key="i" :value="String(i)" :label="o.words">
        {{ o.words }}<span v-if="o.fits" class="soft"> · fits</span>
      </el-option>
      <el-option :value="OWN" label="another one" />
    </el-select>
    <label v-if="chosen === OWN" class="own">
      <el-input-number
        :model-value="onLabel"
        :controls="false"
        :aria-label="`${label} of ${use.column}`"
        @change="(v) => enter(v ?? undefined)"
      />
      {{ label }}
    </label>
    <label v-if="chosen === OWN && kind === 'transducer'" class="own">
      <el-input-number
        :model-value="use.lead?.zero_v ?? 0"
        :controls="false"
        :aria-label="`Volts at zero of ${use.column}`"
        @change="(v) => enter(onLabel, v ?? 0)"
      />
      V at zero
    </label>
  </div>
</template>

<style scoped>
.lead {
  display: grid;
  gap: 6px;
}
.own {
  display: flex;
  gap: 8px;
  align-items: center;
}
.own .el-input-number {
  width: 84px;
}
</style>
