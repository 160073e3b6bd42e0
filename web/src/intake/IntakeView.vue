<script setup lang="ts">
import { ElButton, ElForm, ElFormItem, ElInput } from 'element-plus'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { client, unwrap, type Schemas } from '@/api/client'
import ProblemNote from '@/shared/ProblemNote.vue'
import { useAttempt } from '@/shared/useAttempt'
import { useSession } from '@/app/session'
import EngineForm from './EngineForm.vue'
import JobFields from './JobFields.vue'
import { codesTyped, emptyJob, written } from './job'
import { useEngineCheck, type TypedEngine } from './useEngineCheck'
import { fillEngine } from './useEngineSuggestions'
import { useIntakeDraft, type Fields } from './useIntakeDraft'
import { useVehicleSuggestions, type KnownVehicle } from './useVehicleSuggestions'

const router = useRouter()
const engine = ref<TypedEngine>({
  label: '',
  cylinders: 4,
  firing_order: '1 3 4 2',
  fuel: 'petrol',
  ignition: 'coil_on_plug',
  injection: 'port',
})
const vehicle = ref('')
const verified = ref('')
const codes = ref('')
const job = ref(emptyJob())
const { problem, busy, attempt } = useAttempt()
const { check } = useEngineCheck(() => ({ ...engine.value }))
const { suggestions, chosen, choose } = useVehicleSuggestions(vehicle)
const session = useSession()
const draft = useIntakeDraft(session.state?.username ?? session.state?.name ?? '', {
  engine,
  vehicle,
  verified,
  codes,
  job,
} as Fields)
/** Cylinders as far as the firing order is typed. */
const order = computed(() => (engine.value.firing_order.match(/\d+/g) ?? []).map(Number))
const ready = computed(() => vehicle.value.trim() !== '' && check.value?.valid === true)

function take(known: KnownVehicle) {
  choose(known)
  const block = known.engine as Schemas['Engine']
  fillEngine(engine.value, block, block.label ?? '')
}

const start = () =>
  attempt(async () => {
    const { complaint } = job.value
    const kept = await unwrap(
      client.POST('/api/cases/', {
        body: {
          ...job.value,
          title: complaint ? `${vehicle.value}, ${complaint}`.slice(0, 120) : vehicle.value,
          vehicle: vehicle.value,
          visit_of: chosen.value?.id ?? null,
          engine: { ...engine.value },
          complaint_verified: verified.value,
          work_done: written(job.value.work_done),
          codes: codesTyped(codes.value),
        },
      }),
    )
    draft.done()
    await router.push(`/cases/${kept.id}/evidence`)
  })
</script>

<template>
  <div class="page">
    <h1>New case</h1>
    <p v-if="draft.restored.value" class="draft" data-test="draft">
      What you had typed stands here again.
      <el-button @click="draft.startEmpty">Start empty</el-button>
    </p>
    <el-form label-position="top" class="form" @submit.prevent="start">
      <section>
        <h2>Vehicle and complaint</h2>
        <el-form-item label="Vehicle" for="vehicle">
          <el-input id="vehicle" v-model="vehicle" autofocus autocomplete="off" placeholder="Minibus 3" />
        </el-form-item>
        <ul v-if="suggestions.length" class="suggestions" aria-label="Vehicles that were here before">
          <li v-for="known in suggestions" :key="known.id">
            <button type="button" data-test="known-vehicle" @click="take(known)">
              <strong>{{ known.name }}</strong>, here
              {{ known.visits === 1 ? 'once' : `${known.visits} times`
              }}<span v-if="known.last" class="small soft">: {{ known.last }}</span>
            </button>
          </li>
        </ul>
        <p v-if="chosen" class="small" data-test="chosen-vehicle">
          Another visit of {{ chosen.name }}; what was found before stands beside this case.
        </p>
        <job-fields v-model="job" :order="order">
          <el-form-item label="Seen by you, when" for="verified">
            <el-input id="verified" v-model="verified" placeholder="cold, idle; empty if not yet" />
          </el-form-item>
        </job-fields>
        <el-form-item label="Codes" for="codes">
          <el-input id="codes" v-model="codes" placeholder="P0303" />
        </el-form-item>
      </section>
      <engine-form v-model="engine" :check="check" />
      <footer>
        <problem-note :problem="problem" />
        <el-button
          type="primary"
          native-type="submit"
          :disabled="!ready"
          :loading="busy"
          data-test="start-case"
          >Start case</el-button
        >
        <span v-if="!ready" class="soft small">A case needs a vehicle and an engine that can be.</span>
      </footer>
    </el-form>
  </div>
</template>

<style scoped>
.draft {
  display: flex;
  align-items: center;
  gap: 12px;
  margin-top: 8px;
}
.form {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px 44px;
  margin-top: 14px;
}
.suggestions {
  list-style: none;
  margin: -8px 0 12px;
  padding: 0;
  border: 1px solid var(--rule);
}
.suggestions button {
  width: 100%;
  min-height: 44px;
  padding: 6px 12px;
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  cursor: pointer;
}
.suggestions button:hover {
  background: var(--bench);
}
h2 {
  margin-bottom: 8px;
  padding-bottom: 4px;
  border-bottom: 2px solid var(--ink);
}
footer {
  grid-column: 1 / -1;
}
@media (max-width: 899px) {
  .form {
    grid-template-columns: minmax(0, 1fr);
  }
}
footer .soft {
  margin-left: 12px;
}
:deep(.el-form-item) {
  margin-bottom: 12px;
}
</style>
