<script setup lang="ts">
import { ElButton, ElCheckbox, ElOption, ElSelect } from 'element-plus'
import { wordFor } from '@/shared/words'
import { nextScaling, SCALING_WORDS, type Scaling } from './scaling'

/** Which channel, which cylinder, which cycle, how close: the row above the pictures of cycles. */
defineProps<{
  look: string
  roles: readonly string[]
  cylinders: readonly number[]
  running: -1 | 0 | 1
  /** Share of a cylinder's window that is shown. */
  share: number
}>()
const emit = defineEmits<{ go: [by: number]; play: [direction: 1 | -1]; closer: [by: number] }>()
const role = defineModel<string>('role', { required: true })
const picked = defineModel<number | null>('picked', { required: true })
const slow = defineModel<boolean>('slow', { required: true })
const oddFirst = defineModel<boolean>('oddFirst', { required: true })
const scaling = defineModel<Scaling>('scaling', { required: true })
</script>

<template>
  <div class="actions bar">
    <el-select v-model="role" aria-label="What to look at" class="role">
      <el-option v-for="r in roles" :key="r" :value="r" :label="wordFor('roles', r)" />
    </el-select>
    <div class="picks" role="group" aria-label="Pick a cylinder out">
      <el-button
        v-for="c in cylinders"
        :key="c"
        :type="picked === c ? 'primary' : 'default'"
        :aria-pressed="picked === c"
        :aria-label="`Pick cylinder ${c} out`"
        :data-test="`pick-${c}`"
        @click="picked = picked === c ? null : c"
        >{{ c }}</el-button
      >
    </div>
    <template v-if="look === 'cycle'">
      <el-button @click="emit('go', -1)">Back <span class="keycap">[</span></el-button>
      <el-button data-test="play-back" @click="emit('play', -1)"
        >{{ running < 0 ? 'Hold' : 'Run back' }} <span class="keycap">o</span></el-button
      >
      <el-button data-test="play" @click="emit('play', 1)"
        >{{ running > 0 ? 'Hold' : 'Run' }} <span class="keycap">p</span></el-button
      >
      <el-button @click="emit('go', 1)">On <span class="keycap">]</span></el-button>
      <el-checkbox v-model="slow" data-test="slow">Slow <span class="keycap">s</span></el-checkbox>
      <el-checkbox v-model="oddFirst" data-test="odd-first">Odd ones first</el-checkbox>
    </template>
    <template v-if="look === 'overlay' || look === 'rows'">
      <el-button :disabled="share <= 1 / 32" data-test="closer" @click="emit('closer', 0.5)"
        >Closer <span class="keycap">+</span></el-button
      >
      <el-button :disabled="share >= 1" @click="emit('closer', 2)"
        >Wider <span class="keycap">-</span></el-button
      >
    </template>
    <el-button v-if="look === 'rows'" data-test="lock" @click="scaling = nextScaling(scaling)"
      >{{ SCALING_WORDS[scaling] }} <span class="keycap">l</span></el-button
    >
  </div>
</template>

<style scoped>
.bar {
  margin-bottom: 8px;
}
.bar .el-button,
.picks .el-button {
  margin: 0;
}
.bar .keycap {
  margin-left: 8px;
}
.role {
  width: 210px;
}
.picks {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}
.picks .el-button {
  min-width: 44px;
  padding: 0 10px;
}
</style>
