<script setup lang="ts">
import { ElButton, ElInputNumber } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { client, unwrap } from '@/api/client'
import { useSession } from '@/app/session'
import ProblemNote from '@/shared/ProblemNote.vue'
import { useAttempt } from '@/shared/useAttempt'
import { useLoaded } from '@/shared/useLoaded'
import { changedPrices, moneyInWords } from './money'

/** The shop's own prices: none are shipped, none are guessed. */
const { data, problem, reload } = useLoaded('prices', 'all', (_key, signal) =>
  unwrap(client.GET('/api/prices/', { signal })),
)
const { problem: refusal, busy, attempt } = useAttempt()
const session = useSession()
const typed = ref<Record<string, number | null>>({})
watch(data, (list) => {
  typed.value = Object.fromEntries(list?.prices.map((line) => [line.item, line.amount]) ?? [])
})
const changes = computed(() => changedPrices(data.value?.prices ?? [], typed.value))
const keep = () =>
  attempt(async () => {
    data.value = await unwrap(client.POST('/api/prices/', { body: { prices: changes.value } }))
  })
</script>

<template>
  <div class="page">
    <problem-note :problem="problem" :retry="reload" />
    <template v-if="data">
      <header class="page-head">
        <div>
          <h1>Price list</h1>
          <p class="soft">
            What one piece, or an hour of labour, costs the owner<template v-if="session.state?.currency"
              >, in {{ session.state.currency }}</template
            >.
          </p>
        </div>
        <div class="actions">
          <router-link class="el-button el-button--large" to="/workshop">Letterhead and currency</router-link>
        </div>
      </header>
      <problem-note :problem="refusal" />
      <form novalidate @submit.prevent="keep">
        <label v-for="line in data.prices" :key="line.item">
          <span>{{ line.words }}</span>
          <el-input-number
            v-if="data.may"
            v-model="typed[line.item]"
            :min="0"
            :max="1000000"
            :precision="2"
            :controls="false"
            :value-on-clear="null"
            :aria-label="line.words"
            :data-test="`price-${line.item}`"
          />
          <span v-else class="number">{{ moneyInWords(line.amount, session.state?.currency) }}</span>
        </label>
        <el-button
          v-if="data.may"
          type="primary"
          native-type="submit"
          :disabled="!changes.length"
          :loading="busy"
          data-test="prices-keep"
          >Keep the prices</el-button
        >
      </form>
    </template>
  </div>
</template>

<style scoped>
form {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px 44px;
}
label {
  display: grid;
  grid-template-columns: 1fr 180px;
  gap: 12px;
  align-items: center;
  min-height: 48px;
  border-bottom: 1px solid var(--rule-soft);
}
label > span:first-child::first-letter {
  text-transform: uppercase;
}
label > span:first-child {
  display: block;
}
.el-button {
  grid-column: 1;
  justify-self: start;
  margin-top: 12px;
}
@media (max-width: 899px) {
  form {
    grid-template-columns: minmax(0, 1fr);
  }
  label {
    grid-template-columns: minmax(0, 1fr) 140px;
  }
  label .el-input-number {
    width: 140px;
  }
}
</style>
