<script setup lang="ts">
import { ElButton, ElInput, ElOption, ElSelect } from 'element-plus'
import { reactive, ref } from 'vue'
import { client, unwrap } from '@/api/client'
import ProblemNote from '@/shared/ProblemNote.vue'
import { useAttempt } from '@/shared/useAttempt'
import { useLoaded } from '@/shared/useLoaded'

/** What a code means by the published list, and what the shop added for codes of the maker. */
const asked = ref('')
const looked = ref('')
const { data, problem, reload } = useLoaded('codes', looked, (code, signal) =>
  unwrap(client.GET('/api/codes/', { params: { query: code ? { code } : {} }, signal })),
)
const { problem: refusal, busy, attempt } = useAttempt()
const fresh = reactive({ code: '', words: '', fault: '', factor: 2 })
const FACTORS = {
  1: 'Says nothing',
  1.5: 'A little likelier',
  2: 'Likelier',
  4: 'Much likelier',
  8: 'Names it',
}
const add = () =>
  attempt(async () => {
    data.value = await unwrap(client.POST('/api/codes/', { body: { ...fresh } }))
    Object.assign(fresh, { code: '', words: '', fault: '' })
  })
const drop = (code_id: number) =>
  attempt(async () => {
    data.value = await unwrap(client.DELETE('/api/codes/{code_id}/', { params: { path: { code_id } } }))
  })
</script>

<template>
  <problem-note :problem="problem" :retry="reload" />
  <problem-note :problem="refusal" />
  <form class="look" @submit.prevent="looked = asked.trim()">
    <el-input v-model="asked" placeholder="P0303" aria-label="Code" data-test="code-asked" />
    <el-button native-type="submit" type="primary" data-test="code-look">What does it mean?</el-button>
  </form>
  <div v-if="data?.asked" class="meaning" data-test="code-meaning">
    <p>
      <strong class="number">{{ data.asked.code }}</strong> {{ data.asked.words }}
    </p>
    <p v-if="data.asked.beware">{{ data.asked.beware }}</p>
    <p v-if="data.asked.likelier.length" class="small">
      Makes likelier: {{ data.asked.likelier.join(', ') }}.
    </p>
    <p class="small soft">
      {{
        data.asked.published
          ? 'Meaning published in SAE J2012; how far it nudges is ours.'
          : 'Left to the maker.'
      }}
      A code nudges, it never decides.
    </p>
  </div>
  <p v-else-if="looked && data" class="soft" data-test="code-meaning">That has not the form of a code.</p>

  <template v-if="data">
    <h2>Codes of makers, as this shop knows them</h2>
    <table v-if="data.own.length" data-test="own-codes">
      <tbody>
        <tr v-for="code in data.own" :key="code.id">
          <th class="number">{{ code.code }}</th>
          <td>{{ code.words }}</td>
          <td class="small">
            {{ code.fault_words ? `${code.fault_words}, ${code.factor} times likelier` : '' }}
          </td>
          <td class="small soft">{{ code.by }}</td>
          <td><el-button v-if="data.may" :loading="busy" @click="drop(code.id)">Take it off</el-button></td>
        </tr>
      </tbody>
    </table>
    <p v-else class="soft">None yet.</p>
    <form v-if="data.may" class="fresh" @submit.prevent="add">
      <el-input v-model="fresh.code" placeholder="P1234" aria-label="New code" data-test="new-code" />
      <el-input
        v-model="fresh.words"
        placeholder="what it means here"
        aria-label="Meaning"
        data-test="new-words"
      />
      <el-select v-model="fresh.fault" clearable filterable placeholder="makes likelier" aria-label="Fault">
        <el-option
          v-for="fault in data.faults"
          :key="fault.fault"
          :value="fault.fault"
          :label="fault.words"
        />
      </el-select>
      <el-select v-model="fresh.factor" aria-label="How far">
        <el-option v-for="(words, factor) in FACTORS" :key="factor" :value="Number(factor)" :label="words" />
      </el-select>
      <el-button native-type="submit" :loading="busy" data-test="new-keep">Write it down</el-button>
    </form>
  </template>
</template>

<style scoped>
h2 {
  margin: 20px 0 6px;
}
.look,
.fresh {
  display: grid;
  grid-template-columns: 200px auto;
  gap: 10px;
  justify-content: start;
}
.fresh {
  grid-template-columns: 120px 1fr 220px 180px auto;
  margin-top: 12px;
}
.meaning {
  margin: 12px 0;
  padding: 12px 16px;
  background: var(--bench);
}
.meaning p {
  margin: 2px 0;
}
table {
  width: 100%;
  border-collapse: collapse;
}
th,
td {
  text-align: left;
  padding: 6px 14px 6px 0;
  border-bottom: 1px solid var(--rule-soft);
}
@media (max-width: 899px) {
  .look {
    grid-template-columns: minmax(0, 1fr) auto;
    justify-content: stretch;
  }
  .fresh {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
