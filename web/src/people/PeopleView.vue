<script setup lang="ts">
import { ElButton, ElForm, ElFormItem, ElInput, ElOption, ElSelect } from 'element-plus'
import { onMounted, reactive } from 'vue'
import type { Schemas } from '@/api/client'
import { useSession } from '@/app/session'
import ProblemNote from '@/shared/ProblemNote.vue'
import { whenInWords } from '@/shared/words'
import HouseStands from './HouseStands.vue'
import OneTimeLink from './OneTimeLink.vue'
import { usePeople } from './usePeople'

type Role = Schemas['Person']['role']
const ROLES: { value: Role; does: string }[] = [
  { value: 'technician', does: 'opens cases, measures, answers' },
  { value: 'lead', does: 'also withdraws what others kept, and manages people' },
  { value: 'reader', does: 'reads, changes nothing' },
]
const session = useSession()
const { everybody, problem, link, busy, load, add, sendLink, change, logOut } = usePeople()
const fresh = reactive({ username: '', name: '', role: 'technician' as Role })

const placesInWords = (count: number) => ['nowhere', 'one place'][count] ?? `${count} places`

async function addPerson() {
  if (await add(fresh.username, fresh.name, fresh.role)) Object.assign(fresh, { username: '', name: '' })
}
onMounted(load)
</script>

<template>
  <div class="page">
    <header class="page-head">
      <div>
        <h1>People{{ session.state?.workshop ? ` of ${session.state.workshop}` : '' }}</h1>
        <p class="soft">Who may do what. What somebody recorded stays theirs, also when blocked.</p>
      </div>
    </header>
    <problem-note :problem="problem" />
    <one-time-link v-if="link" :name="link.name" :address="link.address" @close="link = null" />
    <table class="people">
      <thead>
        <tr>
          <th>Name</th>
          <th>Role</th>
          <th>Logged in at</th>
          <th>Last came in</th>
          <th><span class="hidden">What to do</span></th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="person in everybody"
          :key="person.id"
          :class="{ gone: person.blocked }"
          :data-person="person.username"
        >
          <td>
            <strong>{{ person.name }}</strong>
            <span v-if="person.name !== person.username" class="soft small under">{{ person.username }}</span>
            <span v-if="person.blocked" class="mark">blocked</span>
          </td>
          <td>
            <el-select
              :model-value="person.role"
              :aria-label="`Role of ${person.name}`"
              :disabled="busy || person.blocked"
              @change="(role: Role) => change(person, { role })"
            >
              <el-option v-for="role in ROLES" :key="role.value" :value="role.value" :label="role.value" />
            </el-select>
          </td>
          <td data-label="Logged in at">{{ placesInWords(person.sessions.length) }}</td>
          <td data-label="Last came in">
            {{ person.last_login ? whenInWords(person.last_login) : 'never' }}
          </td>
          <td class="verbs">
            <el-button v-if="!person.blocked" :disabled="busy" @click="sendLink(person)"
              >New password</el-button
            >
            <el-button v-if="person.sessions.length" :disabled="busy" @click="logOut(person)"
              >Log out</el-button
            >
            <el-button :disabled="busy" @click="change(person, { blocked: !person.blocked })">{{
              person.blocked ? 'Let in again' : 'Block'
            }}</el-button>
          </td>
        </tr>
      </tbody>
    </table>
    <h2>Add a person</h2>
    <el-form class="add" label-position="top" @submit.prevent="addPerson">
      <el-form-item label="Name to log in with" for="new-username">
        <el-input id="new-username" v-model="fresh.username" autocomplete="off" />
      </el-form-item>
      <el-form-item label="Name as shown" for="new-name">
        <el-input id="new-name" v-model="fresh.name" autocomplete="off" />
      </el-form-item>
      <el-form-item label="Role" for="new-role">
        <el-select id="new-role" v-model="fresh.role">
          <el-option
            v-for="role in ROLES"
            :key="role.value"
            :value="role.value"
            :label="`${role.value}: ${role.does}`"
          />
        </el-select>
      </el-form-item>
      <el-button class="go" type="primary" native-type="submit" :loading="busy" :disabled="!fresh.username"
        >Add, and make a link</el-button
      >
    </el-form>
    <p class="soft small">You never see or choose anybody's password: the link lets them choose it, once.</p>
    <house-stands />
  </div>
</template>

<style scoped>
.people {
  width: 100%;
  border-collapse: collapse;
  margin-bottom: 28px;
}
th,
td {
  text-align: left;
  padding: 8px 12px 8px 0;
  border-bottom: 1px solid var(--rule);
}
td .el-select {
  width: 140px;
}
.under {
  display: block;
}
.gone strong {
  color: var(--ink-soft);
}
.mark {
  margin-left: 8px;
  border: 1px solid currentcolor;
  padding: 1px 6px;
  font-size: 14px;
}
.verbs {
  text-align: right;
  white-space: nowrap;
}
.add {
  display: grid;
  grid-template-columns: 1fr 1fr 2fr auto;
  gap: 16px;
  align-items: start;
}
.add .el-form-item {
  margin-bottom: 0;
}
.add + p {
  margin-top: 14px;
}
.add .go {
  align-self: end;
}
.hidden {
  position: absolute;
  left: -9999px;
}
@media (max-width: 899px) {
  .people thead {
    display: none;
  }
  .people tr {
    display: grid;
    grid-template-columns: 1fr auto;
    padding: 8px 0;
    border-bottom: 1px solid var(--rule);
  }
  .people td {
    border: 0;
    padding: 4px 12px 4px 0;
  }
  .people td[data-label]::before {
    content: attr(data-label) ': ';
    color: var(--ink-soft);
  }
  .people .verbs {
    grid-column: 1 / -1;
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    white-space: normal;
  }
  .verbs .el-button {
    margin: 0;
  }
  .add {
    grid-template-columns: 1fr;
  }
}
</style>
