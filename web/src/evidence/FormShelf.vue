<script setup lang="ts">
import { ElInput } from 'element-plus'
import { computed, ref } from 'vue'
import { useKeys } from '@/app/keys'
import type { Schemas } from '@/api/client'
import type { Form } from './forms'
import { byStage, matching } from './shelf'

/** Forms in the order of the work: what the plan asks first, then stage by stage; a few letters find any. */
const props = defineProps<{ forms: readonly Form[]; asked: readonly Schemas['NextTest'][]; shown?: string }>()
const emit = defineEmits<{ show: [test: string, item: string] }>()
const letters = ref('')
const first = computed(() => props.asked.filter((offer) => offer.has_form).slice(0, 3))
const stages = computed(() => byStage(matching(props.forms, letters.value)))
const field = ref<InstanceType<typeof ElInput> | null>(null)
useKeys({ '/': () => field.value?.focus() })
function showFirst() {
  const found = letters.value ? stages.value[0]?.forms[0] : undefined
  if (found) emit('show', found.test, '')
}
</script>

<template>
  <nav class="shelf" aria-label="What was read">
    <div v-if="first.length && !letters" class="stage asked" data-test="asked-first">
      <h3>The plan asks</h3>
      <div>
        <button
          v-for="offer in first"
          :key="offer.id"
          type="button"
          :data-test="`asked-${offer.id}`"
          @click="emit('show', offer.test, offer.id.split(':')[1] ?? '')"
        >
          {{ offer.title }} <span class="number small">{{ offer.minutes }} min</span>
        </button>
      </div>
    </div>
    <el-input
      ref="field"
      v-model="letters"
      class="letters"
      placeholder="a few letters, then Enter"
      aria-label="Find a form"
      clearable
      @keydown.enter.prevent="showFirst"
    />
    <div v-for="stage in stages" :key="stage.words" class="stage">
      <h3>{{ stage.words }}</h3>
      <div>
        <button
          v-for="form in stage.forms"
          :key="form.test"
          type="button"
          :aria-pressed="form.test === shown"
          :class="{ barred: form.why_not }"
          :data-test="`form-${form.test}`"
          @click="emit('show', form.test, '')"
        >
          {{ form.title }}
        </button>
      </div>
    </div>
    <p v-if="!stages.length" class="soft">No form is called so.</p>
  </nav>
</template>

<style scoped>
.shelf {
  margin-top: 8px;
}
.stage {
  display: grid;
  grid-template-columns: 150px minmax(0, 1fr);
  gap: 8px;
  align-items: baseline;
  padding: 4px 0;
  border-bottom: 1px solid var(--rule-soft);
}
.stage > div {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
h3 {
  font-size: 14.5px;
}
.letters {
  width: 240px;
  margin: 8px 0;
}
button {
  font: inherit;
  color: inherit;
  min-height: 44px;
  padding: 4px 14px;
  background: var(--work);
  border: 2px solid var(--rule);
  border-radius: 3px;
  cursor: pointer;
}
button[aria-pressed='true'],
.asked button {
  border-color: var(--ink);
  font-weight: 600;
}
.barred {
  color: var(--ink-soft);
}
@media (max-width: 899px) {
  .stage {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
