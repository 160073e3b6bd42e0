<script setup lang="ts">
import { ElButton, ElForm, ElFormItem, ElInput } from 'element-plus'
import { reactive } from 'vue'
import { client, unwrap } from '@/api/client'
import { useSession } from '@/app/session'
import ProblemNote from '@/shared/ProblemNote.vue'
import { useAttempt } from '@/shared/useAttempt'
import NewPassword from './NewPassword.vue'

/** The first start: whoever can read the terminal of the server leads. */
const emit = defineEmits<{ entered: [] }>()
const session = useSession()
const given = reactive({ code: '', workshop: '', name: '', username: '', password: '' })
const { problem, busy, attempt } = useAttempt()
const begin = () =>
  attempt(async () => {
    session.enter(await unwrap(client.POST('/api/first-lead/', { body: { ...given } })))
    emit('entered')
  })
</script>

<template>
  <h1>First start</h1>
  <p class="soft">Nobody leads this workshop yet. The code stands where the program was started.</p>
  <el-form label-position="top" class="first" @submit.prevent="begin">
    <el-form-item label="Code" for="first-code">
      <el-input id="first-code" v-model="given.code" autocomplete="off" placeholder="ABCD-EFGH-JKLM" />
    </el-form-item>
    <el-form-item label="Name of the workshop" for="first-workshop">
      <el-input id="first-workshop" v-model="given.workshop" />
    </el-form-item>
    <el-form-item label="Your name as shown" for="first-name">
      <el-input id="first-name" v-model="given.name" autocomplete="name" />
    </el-form-item>
    <el-form-item label="Name to log in with" for="first-username">
      <el-input id="first-username" v-model="given.username" autocomplete="username" />
    </el-form-item>
    <new-password id="first-password" v-model="given.password" label="Password" />
    <problem-note :problem="problem" />
    <el-button type="primary" native-type="submit" :loading="busy">Begin</el-button>
  </el-form>
</template>

<style scoped>
.soft {
  margin-bottom: 14px;
}
.first .el-form-item {
  margin-bottom: 12px;
}
</style>
