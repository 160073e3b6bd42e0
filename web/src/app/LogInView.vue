<script setup lang="ts">
import { ElButton, ElForm, ElFormItem, ElInput } from 'element-plus'
import { ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import FirstLead from '@/people/FirstLead.vue'
import ProblemNote from '@/shared/ProblemNote.vue'
import { useAttempt } from '@/shared/useAttempt'
import { useSession } from './session'

const session = useSession()
const route = useRoute()
const router = useRouter()
const username = ref('')
const password = ref('')
const { problem, busy, attempt } = useAttempt()

async function goOn() {
  const next = route.query.next
  await router.push(typeof next === 'string' && next.startsWith('/') ? next : '/cases')
}
const enter = (name: string, secret: string) =>
  attempt(async () => {
    await session.open(name, secret)
    await goOn()
  })
</script>

<template>
  <div class="door">
    <section class="left">
      <p class="name">Fair Witness</p>
      <p v-if="session.state?.workshop" class="workshop">{{ session.state.workshop }}</p>
      <p class="line">Which cylinder misfires, and why.</p>
      <p class="soft">Every claim rests on evidence you can open. What was not tested is said.</p>
    </section>
    <section
      v-if="session.state?.needs_first_lead && !session.state.demo_accounts.length"
      class="right first"
    >
      <first-lead @entered="goOn" />
    </section>
    <section v-else class="right">
      <h1>Log in</h1>
      <el-form label-position="top" @submit.prevent="enter(username, password)">
        <el-form-item label="Name" for="login-name">
          <el-input id="login-name" v-model="username" autocomplete="username" autofocus />
        </el-form-item>
        <el-form-item label="Password" for="login-password">
          <el-input id="login-password" v-model="password" type="password" autocomplete="current-password" />
        </el-form-item>
        <problem-note :problem="problem" />
        <el-button type="primary" native-type="submit" :loading="busy">Log in</el-button>
      </el-form>
      <div v-if="session.state?.demo_accounts.length" class="demo">
        <h2>Demo workshop</h2>
        <p class="small">A made-up community-transport depot. One click enters as:</p>
        <div class="accounts">
          <el-button
            v-for="account in session.state.demo_accounts"
            :key="account.username"
            :disabled="busy"
            @click="enter(account.username, account.password)"
            >{{ account.name }}, {{ account.role }}</el-button
          >
        </div>
        <p class="small soft">
          Or type
          <span v-for="(account, i) in session.state.demo_accounts" :key="account.username"
            ><template v-if="i">, </template
            ><span class="number">{{ account.username }} / {{ account.password }}</span></span
          >.
        </p>
      </div>
    </section>
  </div>
</template>

<style scoped>
.door {
  display: grid;
  grid-template-columns: 2fr 3fr;
  min-height: 100vh;
}
.left {
  background: var(--rail);
  color: #fff;
  padding: 15vh 40px;
}
.name {
  font-size: 2.2rem;
  font-weight: 700;
}
.line {
  font-size: 1.3rem;
  margin: 8px 0 20px;
}
.left .soft {
  color: #c9d3db;
}
.right {
  padding: 15vh 60px 40px;
  max-width: 620px;
}
.right.first {
  padding-top: 6vh;
}
h1 {
  margin-bottom: 18px;
}
.demo {
  border-top: 1px solid var(--rule);
  margin-top: 28px;
  padding-top: 18px;
}
.accounts {
  display: flex;
  flex-direction: column;
  gap: 8px;
  align-items: flex-start;
  margin: 10px 0;
}
.accounts .el-button {
  margin: 0;
}
</style>
