<script setup lang="ts">
import { client, unwrap } from '@/api/client'
import { useLoaded } from '@/shared/useLoaded'
import { dayInWords } from '@/visit/labour'

/** What was put off, and is due: of all cases, the oldest first. Done, a line goes. */
defineProps<{ may: boolean }>()
const { data, reload } = useLoaded('due', 'due', (_key, signal) =>
  unwrap(client.GET('/api/follow-ups/', { signal })),
)
async function done(follow_up_id: number) {
  await unwrap(client.POST('/api/follow-ups/{follow_up_id}/', { params: { path: { follow_up_id } } })).catch(
    () => undefined,
  )
  reload()
}
</script>

<template>
  <section v-if="data?.length" class="due" aria-label="Due" data-test="due">
    <p v-for="item in data" :key="item.id">
      <strong class="alarm">Due {{ dayInWords(item.due) }}:</strong> {{ item.words }},
      <router-link :to="`/cases/${item.case}`">{{ item.title }}</router-link>
      <button v-if="may" type="button" class="quiet" @click="done(item.id)">Done</button>
    </p>
  </section>
</template>

<style scoped>
.due {
  border-left: 6px solid var(--alarm);
  padding: 2px 12px;
  margin-bottom: 12px;
}
.due p {
  margin: 2px 0;
}
a {
  color: inherit;
  margin-right: 10px;
}
</style>
