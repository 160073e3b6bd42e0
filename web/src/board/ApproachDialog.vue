<script setup lang="ts">
import {
  ElButton,
  ElCheckbox,
  ElCheckboxGroup,
  ElDialog,
  ElInputNumber,
  ElOption,
  ElSelect,
} from 'element-plus'
import { computed, ref } from 'vue'
import { words } from '@/shared/words'
import type { Board } from './useBoard'

/** How this case is worked: where people of the trade differ, the tools of the bay, own minutes of this engine. */
const props = defineProps<{ board: Board }>()
const shown = defineModel<boolean>({ required: true })
const emit = defineEmits<{
  change: [changes: Record<string, string | string[]>]
  minutes: [test: string, minutes: number | null]
}>()

const part = ref<'ways' | 'tools' | 'minutes'>('ways')
const PARTS = {
  ways: 'How it is worked',
  tools: 'Tools in the bay',
  minutes: 'Minutes on this engine',
} as const
/** Arrow keys move between the tabs, as everywhere else. */
function turn(by: number, event: KeyboardEvent) {
  const keys = Object.keys(PARTS) as (keyof typeof PARTS)[]
  const next = (keys.indexOf(part.value) + by + keys.length) % keys.length
  part.value = keys[next]!
  const tabs = (event.currentTarget as HTMLElement).querySelectorAll<HTMLElement>('[role="tab"]')
  tabs[next]?.focus()
}
const named = computed(() => Boolean(props.board.case.engine.label))
</script>

<template>
  <el-dialog v-model="shown" title="Tools and order" width="640px">
    <div
      class="segments parts"
      role="tablist"
      @keydown.left.prevent="turn(-1, $event)"
      @keydown.right.prevent="turn(1, $event)"
    >
      <button
        v-for="(title, key) in PARTS"
        :key="key"
        type="button"
        role="tab"
        :aria-selected="part === key"
        :tabindex="part === key ? 0 : -1"
        :data-test="`part-${key}`"
        @click="part = key"
      >
        {{ title }}
      </button>
    </div>
    <div v-if="part === 'ways'" class="ways">
      <label v-for="setting in words.settings" :key="setting.key">
        <span>{{ setting.words }}</span>
        <el-select
          :model-value="board.approach[setting.key as keyof Board['approach']]"
          :aria-label="setting.words"
          @change="(value: string) => emit('change', { [setting.key]: value })"
        >
          <el-option v-for="(word, value) in setting.options" :key="value" :value="value" :label="word" />
        </el-select>
      </label>
      <p class="small soft">These re-rank what is offered. None hides a test.</p>
    </div>
    <div v-else-if="part === 'tools'">
      <p class="small soft">Only tests these tools can do are offered.</p>
      <el-checkbox-group
        :model-value="board.approach.tools"
        class="tools"
        @change="(tools: unknown) => emit('change', { tools: tools as string[] })"
      >
        <el-checkbox
          v-for="tool in board.tools"
          :key="tool.id"
          :value="tool.id"
          :data-test="`tool-${tool.id}`"
        >
          {{ tool.words }}
        </el-checkbox>
      </el-checkbox-group>
    </div>
    <div v-else class="minutes">
      <p v-if="!named" class="alarm">This engine has no name: minutes are kept for named engines only.</p>
      <table v-else class="figures">
        <thead>
          <tr>
            <th>Test on {{ board.case.engine.label }}</th>
            <th>Usual</th>
            <th>Own minutes</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="test in board.access" :key="test.test">
            <td>{{ test.title }}</td>
            <td class="number">{{ test.usual }}</td>
            <td>
              <el-input-number
                :model-value="test.own ?? undefined"
                :min="1"
                :max="600"
                :controls="false"
                size="default"
                :aria-label="`Own minutes, ${test.title}`"
                @change="(minutes: number | undefined) => emit('minutes', test.test, minutes ?? null)"
              />
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <template #footer><el-button type="primary" @click="shown = false">Done</el-button></template>
  </el-dialog>
</template>

<style scoped>
.parts {
  border-bottom: 2px solid var(--ink);
  margin-bottom: 14px;
}
.parts button {
  padding: 0 14px;
  border: 0;
}
.ways label {
  display: grid;
  grid-template-columns: 1fr 300px;
  gap: 12px;
  align-items: center;
  margin-bottom: 8px;
}
.tools {
  display: grid;
  grid-template-columns: 1fr 1fr;
}
.tools :deep(.el-checkbox) {
  min-height: 44px;
}
.minutes {
  max-height: 420px;
  overflow-y: auto;
}
@media (max-width: 899px) {
  .parts {
    overflow-x: auto;
  }
  .ways label,
  .tools {
    grid-template-columns: minmax(0, 1fr);
    gap: 4px;
  }
}
</style>
