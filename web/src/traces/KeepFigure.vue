<script setup lang="ts">
import { ElButton, ElMessage } from 'element-plus'
import { askedFor } from '@/board/asking'
import { client, unwrap } from '@/api/client'
import ProblemNote from '@/shared/ProblemNote.vue'
import { useAttempt } from '@/shared/useAttempt'
import { figureStretch } from './figure'
import type { Capture, View } from './useTraces'

/** Keeps the stretch between the cursors, or else what is shown, as a figure of the report. */
const props = defineProps<{ capture: Capture; view: View; cursors: [number | null, number | null] }>()
const { problem, busy, attempt } = useAttempt()

async function keep() {
  const { from_s, to_s } = figureStretch(props.cursors, props.view.stretch.value)
  const words = await askedFor(
    `${from_s.toFixed(3)} to ${to_s.toFixed(3)} s. What is to be seen there?`,
    'A figure for the sheet',
    ['Keep it', 'Leave it'],
  )
  if (!words) return
  const done = await attempt(async () => {
    await unwrap(
      client.POST('/api/captures/{capture_id}/figures/', {
        params: { path: { capture_id: props.capture.id } },
        body: { from_s, to_s, words },
      }),
    )
  })
  if (done) ElMessage({ message: 'Kept. It stands on the owner’s sheet.', type: 'success' })
}
</script>

<template>
  <el-button :loading="busy" data-test="keep-figure" @click="keep">Figure for the sheet</el-button>
  <problem-note :problem="problem" />
</template>
