<script setup lang="ts">
import {
  ElButton,
  ElInput,
  ElInputNumber,
  ElMessage,
  ElOption,
  ElRadioButton,
  ElRadioGroup,
  ElSelect,
  ElSlider,
} from 'element-plus'
import { computed, ref } from 'vue'
import ConditionsPicker from '@/shared/ConditionsPicker.vue'
import ProblemNote from '@/shared/ProblemNote.vue'
import ColumnLine from './ColumnLine.vue'
import FilesUnderWay from './FilesUnderWay.vue'
import ImportProgress from './ImportProgress.vue'
import InboxFiles from './InboxFiles.vue'
import type { FileImport } from './staging'
import { wordFor } from '@/shared/words'
import { CHANNELS, useTableImport } from './useTableImport'

/** A capture from a file. */
const props = defineProps<{ caseId: number; fuelState: string }>()
const emit = defineEmits<{ kept: [] }>()

const chooser = ref<HTMLInputElement | null>(null)
const over = ref(false)
const table = useTableImport(() => props.caseId)
const { test, engineState, conditions, segment, part, take } = table
const { file, columns, guess, rate, fuelDisabled, name, progress, problem, hasTime, missing, ready } = table
const { held, words, cancel } = table
const attempts = computed(() => guess.value?.attempts ?? [])

/** One attempt out of several, with a little before and after it. */
function takeAttempt(from: number, to: number) {
  part.value = [Math.max(0, Math.floor(100 * from) - 3), Math.min(100, Math.ceil(100 * to) + 3)]
}

async function choose(chosen: File | undefined) {
  over.value = false
  if (!chosen) return
  await table.look({ name: chosen.name, file: chosen })
  if (props.fuelState === 'disabled') fuelDisabled.value = true
  if (chooser.value) chooser.value.value = ''
}
async function chooseWaiting(name: string) {
  await table.look({ name, file: null })
  if (props.fuelState === 'disabled') fuelDisabled.value = true
}
async function resume(sent: FileImport) {
  await table.resume(sent)
  if (props.fuelState === 'disabled') fuelDisabled.value = true
}
async function keep() {
  if (!(await table.keep())) return
  ElMessage({ message: 'Capture kept', type: 'success' })
  emit('kept')
}
</script>

<template>
  <section aria-labelledby="table-import">
    <h2 id="table-import">Capture from a file</h2>
    <p v-if="!file" class="small soft">
      Any test of the trade. A clamp the wrong way round or not zeroed is found and put right; the sync
      belongs on a sound cylinder.
    </p>
    <div
      class="drop"
      :class="{ over, small: file }"
      @dragover.prevent="over = true"
      @dragleave="over = false"
      @drop.prevent="choose($event.dataTransfer?.files[0])"
    >
      <input
        ref="chooser"
        class="visually-hidden"
        type="file"
        accept=".csv,.txt,.tsv,.asc,.mf4,.mdf,.dat,.mat,.parquet,.h5,.hdf5,.wav,.zip,text/csv"
        aria-label="File to import"
        data-test="csv-file"
        @change="choose((($event.target as HTMLInputElement).files ?? [])[0])"
      />
      <span v-if="file"
        ><strong>{{ file }}</strong
        >, {{ guess?.written }}</span
      >
      <span v-else>Drop a file here: CSV or text, MDF, MATLAB, HDF5, Parquet, WAV or Data Package</span>
      <el-button @click="chooser?.click()">{{ file ? 'Choose another' : 'Choose file' }}</el-button>
    </div>
    <inbox-files v-if="!file" @choose="chooseWaiting" />
    <files-under-way :case-id="caseId" :own="held?.id ?? null" @resume="resume" />
    <import-progress v-if="progress !== null && !file" :share="progress" :words="words" @cancel="cancel" />
    <problem-note v-if="!file" :problem="problem" />
    <template v-if="file">
      <ul>
        <column-line
          v-for="(_, i) in columns"
          :key="columns[i]!.column"
          v-model="columns[i]!"
          :attempts="attempts"
          :part="part"
        />
      </ul>
      <div class="cut">
        <span>Keep</span>
        <el-slider v-model="part" range :format-tooltip="(v: number) => `${v} %`" aria-label="What is kept" />
        <span v-if="part[0] > 0 || part[1] < 100" class="small">from {{ part[0] }} to {{ part[1] }} %</span>
        <span v-else class="small soft">all of it</span>
        <el-button
          v-for="([from, to], i) in attempts.length > 1 ? attempts : []"
          :key="i"
          :data-test="`attempt-${i + 1}`"
          @click="takeAttempt(from!, to!)"
          >Attempt {{ i + 1 }}</el-button
        >
      </div>
      <label v-if="guess && guess.segments.length" class="ask"
        ><span>The file holds {{ guess.segments.length }} recordings</span>
        <el-select v-model="segment" aria-label="Which recording of the file" data-test="segment">
          <el-option
            v-for="(samples, i) in guess.segments"
            :key="i"
            :value="i"
            :label="`Recording ${i + 1}, ${samples.toLocaleString()} samples`"
          />
        </el-select>
      </label>
      <div class="questions">
        <label class="ask"
          ><span>What was it taken for?</span>
          <el-select
            :model-value="test"
            aria-label="Test the capture was taken for"
            data-test="import-test"
            @update:model-value="take"
          >
            <el-option v-for="(_, t) in CHANNELS" :key="t" :value="t" :label="wordFor('tests', t)" />
          </el-select>
        </label>
        <div class="ask" role="group" aria-label="What the engine did">
          <span>The engine was</span>
          <el-radio-group v-model="engineState" data-test="engine-state">
            <el-radio-button value="key_on">Standing</el-radio-button>
            <el-radio-button value="cranking">Cranking</el-radio-button>
            <el-radio-button value="running">Running</el-radio-button>
          </el-radio-group>
        </div>
        <label v-if="!hasTime" class="ask"
          ><span>There is no time column. Samples per second</span>
          <el-input-number
            v-model="rate"
            :min="1"
            :max="100000000"
            :controls="false"
            aria-label="Samples per second"
          />
        </label>
        <div v-if="engineState === 'cranking'" class="ask" role="group" aria-label="Was fuel disabled">
          <span>Was fuel disabled while cranking?</span>
          <el-radio-group
            :model-value="fuelDisabled ?? undefined"
            data-test="fuel-disabled"
            @update:model-value="(answer) => (fuelDisabled = answer as boolean)"
          >
            <el-radio-button :value="true">Yes</el-radio-button>
            <el-radio-button :value="false">No</el-radio-button>
          </el-radio-group>
        </div>
        <div class="ask">
          <span>When it was taken</span>
          <conditions-picker v-model="conditions" label="When it was taken" asks-happened />
        </div>
        <label class="ask"
          ><span>Name of the capture</span><el-input v-model="name" aria-label="Name of the capture"
        /></label>
      </div>
      <problem-note :problem="problem" />
      <import-progress v-if="progress !== null" :share="progress" :words="words" @cancel="cancel" />
      <el-button v-else type="primary" :disabled="!ready" data-test="keep-capture" @click="keep"
        >Keep capture</el-button
      >
      <span v-if="!ready && progress === null" class="small soft hint"
        >Still to say: {{ missing.join(', ') }}.</span
      >
    </template>
  </section>
</template>

<style scoped>
.drop {
  display: flex;
  align-items: center;
  justify-content: center;
  gap: 18px;
  border: 2px dashed var(--ink-soft);
  min-height: 120px;
  margin: 10px 0;
}
.drop.small {
  min-height: 62px;
  font-size: 1rem;
}
.drop.over {
  background: var(--stripe);
}
ul {
  list-style: none;
  padding: 0;
  margin: 6px 0 12px;
  border-top: 1px solid var(--rule);
}
.cut {
  display: flex;
  gap: 14px;
  align-items: center;
  margin: 0 0 14px;
}
.cut .el-slider {
  flex: 1;
  max-width: 420px;
  margin: 0 10px;
}
.questions {
  display: flex;
  flex-wrap: wrap;
  gap: 12px 28px;
  margin-bottom: 14px;
}
.ask .el-select {
  width: 230px;
}
.ask {
  display: flex;
  flex-direction: column;
  gap: 4px;
}
.hint {
  margin-left: 12px;
}
</style>
