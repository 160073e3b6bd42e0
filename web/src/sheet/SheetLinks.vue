<script setup lang="ts">
import { ElButton, ElInput, ElInputNumber } from 'element-plus'
import { ref } from 'vue'
import type { Schemas } from '@/api/client'
import { whenInWords } from '@/shared/words'

/** Links that show the sheet to whoever has no account: made, listed with who looked, revoked. */
defineProps<{ about: Schemas['SheetAbout']; made: string; busy: boolean; whole: boolean }>()
const emit = defineEmits<{ make: [words: string, whole: boolean, days: number]; revoke: [id: number] }>()
const words = ref('')
const days = ref(14)

function make(whole: boolean) {
  emit('make', words.value, whole, days.value)
  words.value = ''
}
</script>

<template>
  <section>
    <h2>Hand over by a link</h2>
    <p v-if="!about.links_on" class="small soft" data-test="links-off">
      Off in this shop. A lead turns links on beside the letterhead.
    </p>
    <form v-else novalidate @submit.prevent="make(whole)">
      <el-input
        v-model="words"
        maxlength="120"
        placeholder="For whom"
        aria-label="For whom"
        data-test="link-for"
      />
      <label
        ><span>Good for, days</span>
        <el-input-number v-model="days" :min="1" :max="90" :controls="false" aria-label="Good for, days" />
      </label>
      <el-button native-type="submit" :disabled="!words.trim() || busy" data-test="link-make">{{
        whole ? 'Make a link to sheet and annex' : 'Make a link to the sheet'
      }}</el-button>
    </form>
    <p v-if="made" class="made" role="status">
      Copy it now, it is not shown again:
      <input
        :value="made"
        readonly
        aria-label="Address of the link"
        data-test="link-made"
        @focus="($event.target as HTMLInputElement).select()"
      />
    </p>
    <ul v-if="about.links.length">
      <li v-for="link in about.links" :key="link.id" data-test="link" :data-state="link.state">
        <strong>{{ link.words }}</strong>, {{ link.whole ? 'sheet and annex' : 'sheet' }}
        <span class="small soft block"
          >{{ link.state === 'open' ? `until ${whenInWords(link.expires_at)}` : link.state }};
          <template v-if="link.openings[0]"
            >opened {{ link.openings.length }} times, last {{ whenInWords(link.openings[0].at) }} from
            {{ link.openings[0].address }}</template
          ><template v-else>never opened</template></span
        >
        <el-button
          v-if="link.state === 'open'"
          :disabled="busy"
          data-test="link-revoke"
          @click="emit('revoke', link.id)"
          >Revoke</el-button
        >
      </li>
    </ul>
  </section>
</template>

<style scoped>
h2 {
  margin: 18px 0 4px;
}
form,
label {
  display: grid;
  gap: 8px;
}
label {
  grid-template-columns: 1fr 110px;
  align-items: center;
}
label .el-input-number {
  width: 100%;
}
.made {
  margin: 12px 0;
}
.made input {
  width: 100%;
  min-height: 48px;
  font: inherit;
}
ul {
  list-style: none;
  padding: 0;
  margin: 12px 0;
}
li {
  border-top: 1px solid var(--rule-soft);
  padding: 8px 0;
}
.block {
  display: block;
}
</style>
