<script setup lang="ts">
import { ElButton, ElCheckbox, ElInput, ElInputNumber, ElOption, ElSelect } from 'element-plus'
import { computed, reactive } from 'vue'
import type { Schemas } from '@/api/client'
import CylinderPicker from '@/board/CylinderPicker.vue'
import { words } from '@/shared/words'
import { numbersTyped } from './labour'

/** Parts measured beside their peers before they are fitted: a new one is a suspect like any other. */
const props = defineProps<{
  parts: readonly Schemas['PartTold'][]
  order: readonly number[]
  caseId: number
  may: boolean
  keep: (body: Schemas['PartGivenRequest']) => Promise<boolean>
}>()
const blank = () => ({
  part: '' as Schemas['PartGivenRequest']['part'] | '',
  at: [] as number[],
  fitted: 'new' as Schemas['PartGivenRequest']['fitted'],
  value: null as number | null,
  peers: '',
  broken: false,
  supplier: '',
  words: '',
})
const given = reactive(blank())
const peers = computed(() => numbersTyped(given.peers))

async function send() {
  if (!given.part || !peers.value) return
  const kept = await props.keep({
    part: given.part,
    cylinder: given.at[0] ?? null,
    fitted: given.fitted,
    value: given.value,
    peers: peers.value,
    unit: 'ohm',
    quantity: '',
    broken: given.broken,
    supplier: given.supplier,
    words: given.words,
  })
  if (kept) Object.assign(given, blank())
}
</script>

<template>
  <section>
    <h2>Parts before fitting</h2>
    <ul v-if="parts.length" class="plain">
      <li v-for="part in parts" :key="part.id" data-test="part" :data-condition="part.condition">
        <strong>{{ part.part }}</strong><template v-if="part.cylinder">
          for cylinder {{ part.cylinder }}</template
        >, {{ part.fitted }}: <span :class="{ alarm: part.claim }">{{ part.condition_words }}</span><template
          v-if="part.reading"
          >, {{ part.reading }}</template
        >.
        <router-link v-if="part.claim" :to="`/cases/${caseId}/claim/${part.id}`" data-test="claim"
          >Claim sheet</router-link
        >
      </li>
    </ul>
    <p v-else class="soft">None written down. Measure a new part beside those that stay in.</p>
    <form v-if="may" novalidate @submit.prevent="send">
      <div class="line">
        <el-select v-model="given.part" placeholder="Part" aria-label="Part" data-test="part-part">
          <el-option v-for="(word, id) in words.parts" :key="id" :value="String(id)" :label="word" />
        </el-select>
        <el-select v-model="given.fitted" aria-label="Which">
          <el-option v-for="(word, id) in words.fitted" :key="id" :value="String(id)" :label="word" />
        </el-select>
      </div>
      <cylinder-picker
        :model-value="given.at"
        :order="order"
        label="For which cylinder"
        @update:model-value="(at) => (given.at = at.slice(-1))"
      />
      <div class="line">
        <el-input-number
          v-model="given.value"
          :min="0"
          :controls="false"
          :value-on-clear="null"
          placeholder="its ohms"
          aria-label="Resistance of the part, ohm"
          data-test="part-value"
        />
        <el-input
          v-model="given.peers"
          placeholder="those of its peers: 0.61 0.62 0.60"
          aria-label="Resistance of its peers, ohm"
          data-test="part-peers"
        />
      </div>
      <p v-if="!peers" class="alarm small">Of the peers one is not a number.</p>
      <div class="line">
        <el-input v-model="given.supplier" placeholder="supplier" aria-label="Supplier" />
        <el-checkbox v-model="given.broken" data-test="part-broken">Broke while fitting</el-checkbox>
      </div>
      <el-button native-type="submit" :disabled="!given.part || !peers" data-test="part-keep"
        >Keep the part</el-button
      >
    </form>
  </section>
</template>

<style scoped>
.plain {
  list-style: none;
  margin: 0;
  padding: 0;
}
.plain li {
  padding: 4px 0;
}
.plain strong::first-letter {
  text-transform: uppercase;
}
form {
  display: grid;
  gap: 6px;
  margin-top: 6px;
  justify-items: start;
}
.line {
  display: flex;
  gap: 6px;
  width: 100%;
  align-items: center;
}
.line :deep(.el-input-number .el-input__inner) {
  text-align: left;
}
.line > .el-select,
.line > .el-input {
  flex: 1;
}
</style>
