<script setup lang="ts">
import { ElButton, ElInput, ElOption, ElSelect } from 'element-plus'
import { ref, watch } from 'vue'
import type { Schemas } from '@/api/client'
import { codesTyped } from '@/intake/job'
import { whenInWords } from '@/shared/words'

/** Codes with where they come from; what our own testing set is told apart. */
type Origin = Schemas['CodeOrigin']
const props = defineProps<{
  codes: readonly Schemas['CodeRow'][]
  visit: Schemas['Visit']
  may: boolean
  read: (body: Schemas['CodesReadRequest']) => Promise<boolean>
  cleared: (words: string) => Promise<boolean>
}>()
const ORIGINS: Record<Origin, string> = {
  as_arrived: 'As it arrived',
  after_clearing: 'Came back after clearing',
  own_testing: 'Set by our own testing',
}
const typed = ref('')
const origin = ref<Origin>(props.visit.next_origin)
watch(
  () => props.visit.next_origin,
  (next) => (origin.value = next),
)

async function keep() {
  if (await props.read({ codes: codesTyped(typed.value), origin: origin.value })) typed.value = ''
}
</script>

<template>
  <section>
    <h2>Codes</h2>
    <ul v-if="codes.length" class="plain" data-test="codes">
      <li v-for="code in codes" :key="code.code + code.status + code.origin">
        <span class="number">{{ code.code }}</span> {{ code.status
        }}<template v-if="code.meaning">: {{ code.meaning }}</template
        >{{ ' ' }}
        <span class="small" :class="code.origin === 'own_testing' ? 'ours' : 'soft'">{{
          code.origin_words
        }}</span>
      </li>
    </ul>
    <p v-else class="soft" data-test="codes">
      {{ visit.code_reads.length ? 'Scanned, none stored.' : 'Not scanned yet.' }}
    </p>
    <p v-for="row in visit.code_reads" :key="row.at" class="small soft">
      {{ row.kind === 'cleared' ? 'Cleared' : row.codes.length ? 'Read' : 'Read, none stored' }} by
      {{ row.by }}, {{ whenInWords(row.at) }}
    </p>
    <form v-if="may" @submit.prevent="keep">
      <div class="line">
        <el-input v-model="typed" placeholder="P0303 P0300" aria-label="Codes read" data-test="codes-typed" />
        <el-select v-model="origin" aria-label="Where they come from" data-test="codes-origin">
          <el-option v-for="(said, key) in ORIGINS" :key="key" :value="key" :label="said" />
        </el-select>
      </div>
      <div class="line">
        <el-button native-type="submit" data-test="codes-keep">{{
          typed.trim() ? 'Keep these codes' : 'Scanned, none'
        }}</el-button>
        <el-button data-test="codes-cleared" @click="cleared(codes.map((c) => c.code).join(' '))"
          >They were cleared</el-button
        >
      </div>
    </form>
  </section>
</template>

<style scoped>
.plain {
  list-style: none;
  margin: 0;
  padding: 0;
}
.ours {
  font-style: italic;
}
form {
  display: grid;
  gap: 6px;
  margin-top: 6px;
}
.line {
  display: flex;
  gap: 6px;
}
.line .el-select {
  width: 250px;
  flex: none;
}
p.small {
  margin: 2px 0;
}
</style>
