<script setup lang="ts">
import { ElButton, ElDatePicker, ElDialog, ElInput } from 'element-plus'
import { ref, watch } from 'vue'
import type { Schemas } from '@/api/client'
import type { Problem } from '@/api/problems'
import ProblemNote from '@/shared/ProblemNote.vue'

/** The end of a case: what is still to do, what was cleared, what comes later. */
const props = defineProps<{
  life: Schemas['Life']
  refusal: Problem | null
  close: (codesCleared: string) => Promise<boolean>
  followUp: (later: Schemas['FollowUpRequest']) => Promise<boolean>
}>()
const shown = defineModel<boolean>({ required: true })
const emit = defineEmits<{ found: [] }>()

const codes = ref('')
const later = ref('')
const due = ref('')
watch(shown, () => {
  codes.value = ''
  later.value = ''
  due.value = ''
})
async function setLater() {
  if (await props.followUp({ words: later.value, due: due.value })) {
    later.value = ''
    due.value = ''
  }
}
async function keep() {
  if (await props.close(codes.value)) shown.value = false
}
</script>

<template>
  <el-dialog v-model="shown" title="Close the case" width="600px">
    <form class="work" @submit.prevent="keep">
      <ul v-if="life.left_to_do.length" class="left" data-test="left">
        <li v-for="line in life.left_to_do" :key="line">{{ line }}</li>
      </ul>
      <p v-if="life.stage !== 'proven'" data-test="unproven">
        <strong>It closes as “{{ life.stage_words }}”.</strong> No repair of it is proven; the case will say
        so.
      </p>
      <p v-if="!life.outcomes.length">
        Nobody wrote down what was really found.
        <button type="button" class="quiet" data-test="closing-found" @click="emit('found')">
          Write it down
        </button>
      </p>
      <label>
        <span>Codes cleared, also those the testing set</span>
        <el-input v-model="codes" maxlength="200" placeholder="none were stored" data-test="codes-cleared" />
      </label>
      <div>
        <span>To be done later</span>
        <p v-for="f in life.follow_ups" :key="f.id" class="small">{{ f.due }}: {{ f.words }}</p>
        <div class="later">
          <el-input
            v-model="later"
            maxlength="200"
            placeholder="Oil change"
            aria-label="What"
            data-test="later"
          />
          <el-date-picker v-model="due" value-format="YYYY-MM-DD" placeholder="Day" aria-label="Day" />
          <el-button :disabled="!later.trim() || !due" data-test="later-keep" @click="setLater"
            >Set it</el-button
          >
        </div>
      </div>
      <problem-note :problem="refusal" />
      <el-button
        type="primary"
        native-type="submit"
        :disabled="life.left_to_do.length > 0"
        data-test="close-now"
        >Close it</el-button
      >
    </form>
  </el-dialog>
</template>

<style scoped src="./dialog.css"></style>
<style scoped>
.left {
  margin: 0;
  padding: 8px 8px 8px 28px;
  border: 2px solid var(--alarm);
}
.later > * {
  min-height: 48px;
}
.later {
  display: flex;
  gap: 8px;
}
@media (max-width: 899px) {
  .later {
    flex-wrap: wrap;
  }
}
</style>
