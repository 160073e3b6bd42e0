<script setup lang="ts">
import { ElButton, ElForm, ElFormItem, ElInput, ElOption, ElSelect } from 'element-plus'
import { client, unwrap } from '@/api/client'
import EngineForm from '@/intake/EngineForm.vue'
import { useEngineCheck } from '@/intake/useEngineCheck'
import ProblemNote from '@/shared/ProblemNote.vue'
import { whenInWords } from '@/shared/words'
import EngineDetails from './EngineDetails.vue'
import EngineMinutes from './EngineMinutes.vue'
import UsualValues from './UsualValues.vue'
import WiringTable from './WiringTable.vue'
import { useEngineRecord } from './useEngineRecord'

/** One engine as the shop knows it: data, variant, wiring by the pin, usual values, notes, minutes. */
const props = defineProps<{ recordId?: number }>()
const emit = defineEmits<{ kept: [record: number]; leave: [] }>()
const { record, others, draft, typed, problem, refusal, busy, reload, keep } = useEngineRecord(
  () => props.recordId ?? null,
  (id) => emit('kept', id),
)
const { check } = useEngineCheck(typed)
const setMinutes = (test: string, minutes: number | null) =>
  unwrap(
    client.POST('/api/engine-records/{record_id}/minutes/', {
      params: { path: { record_id: props.recordId! } },
      body: { test, minutes },
    }),
  ).then((told) => (record.value = told))
</script>

<template>
  <problem-note :problem="problem" :retry="reload" />
  <el-form v-if="draft" class="record" label-position="top" @submit.prevent="keep">
    <header class="page-head">
      <div>
        <h2>{{ record ? record.label : 'A new engine' }}</h2>
        <p v-if="record" class="small soft">
          Written by {{ record.changed_by }}, {{ whenInWords(record.changed_at)
          }}<template v-if="record.changes">, changed {{ record.changes }} times</template>.
          <template v-if="record.variants.length">Variants: {{ record.variants.join(', ') }}.</template>
        </p>
      </div>
      <div class="actions">
        <el-button @click="emit('leave')">Back</el-button>
        <el-button
          v-if="!record || record.may"
          type="primary"
          native-type="submit"
          :loading="busy"
          data-test="keep-engine"
          >Keep the engine</el-button
        >
      </div>
    </header>
    <problem-note :problem="refusal" />
    <div class="about">
      <el-form-item label="Variant of" for="variant-of">
        <el-select
          id="variant-of"
          v-model="draft.variant_of"
          clearable
          placeholder="none"
          aria-label="Variant of"
          data-test="variant-of"
        >
          <el-option v-for="o in others" :key="o.id" :value="o.label" :label="o.label" />
        </el-select>
      </el-form-item>
      <el-form-item label="Years" for="years"><el-input id="years" v-model="draft.years" /></el-form-item>
      <el-form-item label="Engine code" for="code"><el-input id="code" v-model="draft.code" /></el-form-item>
    </div>
    <section v-if="record?.differences.length" data-test="differences">
      <h3>What differs from {{ record.variant_of }}</h3>
      <dl>
        <template v-for="d in record.differences" :key="d.key">
          <dt>{{ d.key }}</dt>
          <dd>
            <strong>{{ d.here }}</strong> <span class="soft">there {{ d.there }}</span>
          </dd>
        </template>
      </dl>
    </section>
    <engine-form v-model="typed" :check="check" />
    <engine-details v-model="typed" />
    <wiring-table v-model="draft.wiring" />
    <usual-values v-model="draft.usual" />
    <el-form-item label="Notes" for="notes">
      <el-input id="notes" v-model="draft.notes" type="textarea" :rows="3" />
    </el-form-item>
    <engine-minutes v-if="record" :lines="record.minutes" :may="record.may" :set="setMinutes" />
  </el-form>
</template>

<style scoped>
.record {
  max-width: 980px;
}
.about {
  display: grid;
  grid-template-columns: 1.4fr 1fr 1fr;
  gap: 14px;
}
dl {
  display: grid;
  grid-template-columns: 220px 1fr;
  gap: 4px 14px;
  margin: 0 0 14px;
}
dd {
  margin: 0;
}
dt::first-letter {
  text-transform: uppercase;
}
</style>
