<script setup lang="ts">
import { ElButton, ElInput, ElRadioButton, ElRadioGroup } from 'element-plus'
import { ref } from 'vue'
import type { Schemas } from '@/api/client'

/** Whether somebody of the shop saw the complaint, under which conditions. */
const props = defineProps<{
  visit: Schemas['Visit']
  may: boolean
  keep: (body: Schemas['TriedRequest']) => Promise<boolean>
}>()
const provoked = ref(true)
const under = ref('')

async function send() {
  if (await props.keep({ provoked: provoked.value, under: under.value })) under.value = ''
}
</script>

<template>
  <section>
    <h2>Tried by the shop</h2>
    <p data-test="tried">{{ visit.tried || 'Nobody has tried it yet.' }}</p>
    <form v-if="may" @submit.prevent="send">
      <el-radio-group v-model="provoked" aria-label="How it went">
        <el-radio-button :value="true" data-test="tried-seen">Seen</el-radio-button>
        <el-radio-button :value="false" data-test="tried-not">Could not be provoked</el-radio-button>
      </el-radio-group>
      <div class="line">
        <el-input
          v-model="under"
          maxlength="200"
          placeholder="cold, idle, ten minutes"
          aria-label="Under which conditions"
          data-test="tried-under"
        />
        <el-button native-type="submit" :disabled="!under.trim()" data-test="tried-keep">Keep</el-button>
      </div>
    </form>
  </section>
</template>

<style scoped>
form {
  display: grid;
  gap: 6px;
  margin-top: 6px;
}
.line {
  display: flex;
  gap: 6px;
}
</style>
