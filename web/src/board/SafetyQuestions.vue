<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { computed, reactive, ref } from 'vue'
import type { Schemas } from '@/api/client'

/** What must be answered before the case is closed, because the starter or a spark could hurt. */
const props = defineProps<{ questions: readonly Schemas['Question'][]; may: boolean }>()
const emit = defineEmits<{ answer: [question: string, text: string] }>()

const texts = reactive<Record<string, string>>({})
const left = computed(() => props.questions.filter((q) => !q.answer).length)
const unfolded = ref(false)

function keep(id: string) {
  const text = texts[id]?.trim()
  if (text) emit('answer', id, text)
}
</script>

<template>
  <section v-if="questions.length" class="safety" aria-label="Flooding" data-test="safety">
    <p class="line">
      <strong class="alarm">Fuel or water may stand in a cylinder. Do not use the starter yet.</strong>
      <span v-if="left" class="small"
        >{{ left }} of {{ questions.length }} answers are missing before the case can be closed.</span
      >
      <span v-else class="small">All answers are kept.</span>
      <el-button :aria-expanded="unfolded" data-test="unfold" @click="unfolded = !unfolded">{{
        unfolded ? 'Fold up' : left ? 'Answer' : 'Show'
      }}</el-button>
    </p>
    <ol v-if="unfolded">
      <li v-for="q in questions" :key="q.id">
        <strong>{{ q.words }}</strong>
        <p class="small soft">{{ q.why }}</p>
        <p v-if="q.answer" :data-test="`answered-${q.id}`">{{ q.answer }}</p>
        <form v-else-if="may" @submit.prevent="keep(q.id)">
          <el-input v-model="texts[q.id]" :aria-label="q.words" :data-test="`answer-${q.id}`" />
          <el-button native-type="submit" :disabled="!texts[q.id]?.trim()" :data-test="`keep-${q.id}`"
            >Keep</el-button
          >
        </form>
      </li>
    </ol>
  </section>
</template>

<style scoped>
.safety {
  border-bottom: 3px solid var(--alarm);
  padding: 6px 18px;
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  align-items: center;
  margin: 0;
}
.line .el-button {
  min-height: 44px;
}
ol {
  margin: 6px 0;
  padding-left: 22px;
  display: grid;
  gap: 10px;
  max-height: 46vh;
  overflow-y: auto;
}
li p {
  margin: 2px 0;
  max-width: 90ch;
}
form {
  display: flex;
  gap: 10px;
  max-width: 720px;
}
</style>
