<script setup lang="ts">
import { ElButton, ElDialog, ElForm, ElFormItem, ElInput, ElTabPane, ElTabs } from 'element-plus'
import { ref, watch } from 'vue'
import { client, unwrap, type Schemas } from '@/api/client'
import { useSession } from '@/app/session'
import ProblemNote from '@/shared/ProblemNote.vue'
import { useAttempt } from '@/shared/useAttempt'
import { reloadAll } from '@/shared/useLoaded'
import { whenInWords } from '@/shared/words'
import { deviceInWords } from './device'
import NewPassword from './NewPassword.vue'
import { CODE_DIGITS } from './rules'
import ShortCode from './ShortCode.vue'

/** The own way in: hand the tablet on, the short code for that, the password, the places logged in at. */
const shown = defineModel<boolean>({ required: true })
const session = useSession()
const said = ref('')
const { problem, busy, attempt: tried } = useAttempt()
const tab = ref('hands')
const others = ref<Schemas['Named'][]>([])
const places = ref<Schemas['OpenSession'][]>([])
const next = ref('')
const code = ref('')
const password = ref('')
const fresh = ref('')

/** What was typed is forgotten, whatever came of it. */
async function attempt(work: () => Promise<void>) {
  said.value = ''
  await tried(work)
  code.value = password.value = fresh.value = ''
}
const load = () =>
  attempt(async () => {
    const able = await unwrap(client.GET('/api/session/switch/'))
    others.value = able.filter((one) => one.username !== session.state?.username)
    places.value = await unwrap(client.GET('/api/session/places/'))
  })
const handOn = () =>
  attempt(async () => {
    const body = { username: next.value, code: code.value }
    session.enter(await unwrap(client.POST('/api/session/switch/', { body })))
    next.value = ''
    shown.value = false
    await reloadAll()
  })
const setCode = (chosen: string) =>
  attempt(async () => {
    const body = { password: password.value, code: chosen }
    session.enter(await unwrap(client.POST('/api/session/code/', { body })))
    said.value = chosen ? 'Your code is set.' : 'You have no code any more.'
  })
const changePassword = () =>
  attempt(async () => {
    const body = { old: password.value, new: fresh.value }
    session.enter(await unwrap(client.POST('/api/session/password/', { body })))
    said.value = 'Your password is changed. Everywhere else you are logged out.'
  })
const endPlace = (session_id: string) =>
  attempt(async () => {
    const params = { path: { session_id } }
    places.value = await unwrap(client.DELETE('/api/session/places/{session_id}/', { params }))
  })
watch(shown, (open) => open && load(), { immediate: true })
watch(tab, () => {
  problem.value = null
  said.value = ''
})
</script>

<template>
  <el-dialog v-model="shown" :title="session.state?.name" width="560px" top="40px">
    <el-tabs v-model="tab">
      <el-tab-pane label="Change hands" name="hands">
        <p v-if="!others.length" class="soft">
          Nobody else has a short code. Whoever sets one under “Short code” can go on here without your
          leaving the case.
        </p>
        <template v-else>
          <p>Who goes on?</p>
          <div class="others" role="group" aria-label="Who goes on">
            <el-button
              v-for="one in others"
              :key="one.username"
              :type="next === one.username ? 'primary' : 'default'"
              :aria-pressed="next === one.username"
              :data-test="`hand-${one.username}`"
              @click="next = one.username"
              >{{ one.name }}</el-button
            >
          </div>
          <el-form label-position="top" @submit.prevent="handOn">
            <short-code id="hand-code" v-model="code" label="Short code" />
            <el-button
              type="primary"
              native-type="submit"
              :loading="busy"
              :disabled="!next || code.length < CODE_DIGITS"
              >Go on</el-button
            >
          </el-form>
        </template>
      </el-tab-pane>
      <el-tab-pane label="Short code" name="code">
        <p class="soft">
          Six digits, for a tablet that several people share. It works where somebody has logged in that day,
          and dies after five wrong guesses.
        </p>
        <el-form label-position="top" @submit.prevent="setCode(code)">
          <el-form-item label="Your password" for="code-password">
            <el-input id="code-password" v-model="password" type="password" autocomplete="current-password" />
          </el-form-item>
          <short-code id="own-code" v-model="code" label="Six digits" />
          <el-button type="primary" native-type="submit" :loading="busy" :disabled="code.length < CODE_DIGITS"
            >Set</el-button
          >
          <el-button v-if="session.state?.has_code" :disabled="!password" @click="setCode('')"
            >Take it away</el-button
          >
        </el-form>
      </el-tab-pane>
      <el-tab-pane label="Password" name="password">
        <el-form label-position="top" @submit.prevent="changePassword">
          <el-form-item label="The one you have" for="old-password">
            <el-input id="old-password" v-model="password" type="password" autocomplete="current-password" />
          </el-form-item>
          <new-password id="new-password" v-model="fresh" label="The new one" />
          <el-button type="primary" native-type="submit" :loading="busy">Change</el-button>
        </el-form>
      </el-tab-pane>
      <el-tab-pane label="Logged in at" name="places">
        <ul class="places">
          <li v-for="place in places" :key="place.id">
            <div>
              {{ place.since ? whenInWords(place.since) : 'some time ago'
              }}{{ place.by_code ? ', by short code' : '' }}
              <p class="soft small">{{ deviceInWords(place.device) }}</p>
            </div>
            <span v-if="place.here" class="soft">here</span>
            <el-button v-else :disabled="busy" @click="endPlace(place.id)">Log out there</el-button>
          </li>
        </ul>
      </el-tab-pane>
    </el-tabs>
    <problem-note :problem="problem" />
    <p v-if="said" role="status" data-test="said">{{ said }}</p>
    <template #footer><el-button @click="shown = false">Close</el-button></template>
  </el-dialog>
</template>

<style scoped>
.others {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin: 8px 0 16px;
}
.others .el-button {
  margin: 0;
}
.soft {
  margin-bottom: 12px;
}
.places {
  list-style: none;
  margin: 0;
  padding: 0;
}
.places li {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 16px;
  border-bottom: 1px solid var(--rule);
  padding: 10px 0;
}
</style>
