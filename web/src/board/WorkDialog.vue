<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, ref, watch } from 'vue'
import type { Schemas } from '@/api/client'
import type { Problem } from '@/api/problems'
import ProblemNote from '@/shared/ProblemNote.vue'
import { words } from '@/shared/words'
import CylinderPicker from './CylinderPicker.vue'
import type { Board } from './useBoard'

/** What was done to the vehicle: two parts changed over, or a repair. Evidence kept afterwards belongs to it. */
const props = defineProps<{
  board: Board
  refusal: Problem | null
  record: (work: Schemas['WorkRequest']) => Promise<boolean>
}>()
const kind = defineModel<'changed_over' | 'after_repair' | null>({ required: true })

const SWAPPED = ['coil', 'plug', 'lead', 'injector']
const part = ref('')
const cylinders = ref<number[]>([])
const fitted = ref('new')
const note = ref('')
const busy = ref(false)
const swap = computed(() => kind.value === 'changed_over')
const parts = computed(() =>
  Object.entries(words.parts).filter(([id]) => !swap.value || SWAPPED.includes(id)),
)
const ready = computed(() => part.value !== '' && (!swap.value || cylinders.value.length === 2))
const shown = computed({ get: () => kind.value !== null, set: (on) => on || (kind.value = null) })
watch(kind, (now) => {
  if (!now) return
  part.value = ''
  note.value = ''
  cylinders.value = [...props.board.verdict.cylinders].slice(0, swap.value ? 1 : undefined)
})

async function keep() {
  busy.value = true
  const kept = await props.record({
    kind: kind.value!,
    part: part.value as Schemas['WorkRequest']['part'],
    cylinders: cylinders.value,
    fitted: swap.value ? null : (fitted.value as Schemas['WorkRequest']['fitted']),
    words: note.value,
  })
  busy.value = false
  if (kept) kind.value = null
}
</script>

<template>
  <el-dialog v-model="shown" :title="swap ? 'Parts changed over' : 'Repair done'" width="600px">
    <form class="work" @submit.prevent="keep">
      <label>
        <span>Part</span>
        <el-select v-model="part" placeholder="Choose" aria-label="Part" data-test="work-part">
          <el-option v-for="[id, word] in parts" :key="id" :value="id" :label="word" />
        </el-select>
      </label>
      <div>
        <span>{{
          swap ? 'Between which two cylinders' : 'At which cylinders; none for the whole engine'
        }}</span>
        <cylinder-picker v-model="cylinders" :order="board.case.engine.firing_order" label="Cylinders" />
      </div>
      <div v-if="!swap">
        <span>Fitted</span>
        <div class="segments" role="group" aria-label="Fitted">
          <button
            v-for="(word, id) in words.fitted"
            :key="id"
            type="button"
            :aria-pressed="fitted === id"
            :data-test="`fitted-${id}`"
            @click="fitted = String(id)"
          >
            {{ word }}
          </button>
        </div>
        <p v-if="fitted !== 'reworked'" class="small soft">
          Measure it beside its peers before it is fitted: new parts can be bad.
        </p>
      </div>
      <label>
        <span>Anything to remember</span>
        <el-input v-model="note" maxlength="300" data-test="work-note" />
      </label>
      <p class="small soft">
        {{
          swap
            ? 'Then take the same test once more: what moved is measured.'
            : 'Then take the tests that showed it once more, set up as before: they prove it.'
        }}
      </p>
      <problem-note :problem="refusal" />
      <el-button type="primary" native-type="submit" :disabled="!ready" :loading="busy" data-test="work-keep"
        >Record it</el-button
      >
    </form>
  </el-dialog>
</template>

<style scoped src="./dialog.css"></style>
