<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'
import { ask, connection } from '@/api/connection'
import { whenInWords } from '@/shared/words'
import { discard, flush, outbox, waiting } from './outbox'

/** Whether the server answers, and what it does not have yet; nothing where all is well. */
const open = ref(false)
const counted = (kind: 'reading' | 'photo', word: string) => {
  const count = outbox.value.filter((one) => one.kind === kind).length
  return count ? [`${count} ${word}${count === 1 ? '' : 's'}`] : []
}
const unsaved = computed(() => [...counted('reading', 'reading'), ...counted('photo', 'photo')].join(', '))
const since = computed(() =>
  connection.lostAt?.toLocaleTimeString(undefined, { hour: '2-digit', minute: '2-digit' }),
)
async function again() {
  await ask()
  await flush()
}
</script>

<template>
  <aside class="connection" aria-label="Connection">
    <div aria-live="polite">
      <div v-if="connection.lostAt || outbox.length" class="strip" data-test="connection">
        <p>
          <strong v-if="connection.lostAt">No connection since {{ since }}. </strong>
          <template v-if="outbox.length"><strong>Not saved yet:</strong> {{ unsaved }}. </template>
          <template v-if="waiting.length">Sent when the server answers.</template>
          <template v-else-if="outbox.length">The server will not have it; see why.</template>
          <template v-else
            >What you see is from before. Readings and photos are held here until it is back.</template
          >
        </p>
        <el-button v-if="outbox.length" data-test="show-held" :aria-expanded="open" @click="open = !open"
          >{{ open ? 'Hide' : 'Show' }} it</el-button
        >
        <el-button data-test="send-held" @click="again">Try now</el-button>
      </div>
    </div>
    <ul v-if="open && outbox.length" class="held">
      <li v-for="one in outbox" :key="one.key">
        <span
          ><strong>{{ one.words }}</strong
          >, noted {{ whenInWords(one.notedAt) }} by {{ one.notedBy }}
          <span v-if="one.refused" class="alarm"> {{ one.refused }}</span></span
        >
        <el-button text @click="discard(one.key)">Discard</el-button>
      </li>
    </ul>
  </aside>
</template>

<style scoped>
.strip {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
  align-items: center;
  padding: 6px 18px;
  background: var(--ink);
  color: var(--bench);
}
.strip p {
  margin: 0;
  flex: 1 1 260px;
}
.held {
  list-style: none;
  margin: 0;
  padding: 6px 18px;
  border-bottom: 2px solid var(--ink);
}
.held li {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 12px;
}
</style>
