<script setup lang="ts">
import { ElButton, ElForm } from 'element-plus'
import { onMounted, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { client, unwrap } from '@/api/client'
import { useSession } from '@/app/session'
import ProblemNote from '@/shared/ProblemNote.vue'
import { useAttempt } from '@/shared/useAttempt'
import NewPassword from './NewPassword.vue'

/** Where a one-time link leads. */
const session = useSession()
const router = useRouter()
const secret = String(useRoute().params.secret)
const name = ref('')
const password = ref('')
const { problem, busy, attempt } = useAttempt()

const choose = () =>
  attempt(async () => {
    session.enter(
      await unwrap(client.POST('/api/link/password/', { body: { secret, password: password.value } })),
    )
    await router.push('/cases')
  })
onMounted(() =>
  attempt(async () => {
    name.value = (await unwrap(client.POST('/api/link/', { body: { secret } }))).name
  }),
)
</script>

<template>
  <div class="page narrow">
    <h1>{{ name ? `${name}, choose a password` : 'Choose a password' }}</h1>
    <problem-note :problem="problem" />
    <el-form v-if="name" label-position="top" @submit.prevent="choose">
      <new-password id="chosen-password" v-model="password" label="Password" />
      <el-button type="primary" native-type="submit" :loading="busy">Choose, and log in</el-button>
    </el-form>
  </div>
</template>

<style scoped>
.narrow {
  max-width: 560px;
  padding: 15vh 40px;
}
h1 {
  margin-bottom: 18px;
}
</style>
