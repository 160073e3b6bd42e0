<script setup lang="ts">
import { ElButton, ElInput, ElOption, ElProgress, ElSelect } from 'element-plus'
import { useEventListener } from '@vueuse/core'
import { computed, ref, shallowRef } from 'vue'
import { useRoute } from 'vue-router'
import type { Schemas } from '@/api/client'
import { askedFor } from '@/board/asking'
import ProblemNote from '@/shared/ProblemNote.vue'
import { whenInWords } from '@/shared/words'
import MarkDialog from './MarkDialog.vue'
import MarkLayer from './MarkLayer.vue'
import { KINDS, picturesOf, usePictures } from './usePictures'

/** Photos, stills and sounds of a case: taken with the camera, chosen, dropped or pasted; marked on top. */
const route = useRoute()
const { data, problem, reload, refusal, busy, sent, photos, sounds, add, mark, withdraw } = usePictures(
  computed(() => Number(route.params.id)),
)
const words = ref('')
const about = ref<string>()
const over = ref(false)
const open = shallowRef<Schemas['Picture'] | null>(null)
const chooser = ref<HTMLInputElement | null>(null)
const camera = ref<HTMLInputElement | null>(null)
const may = computed(() => data.value?.may ?? false)

async function keep(files: Iterable<File>) {
  const found = picturesOf(files)
  if (found.length && may.value && (await add(found, words.value, about.value))) words.value = ''
  for (const field of [chooser.value, camera.value]) if (field) field.value = ''
}
useEventListener(document, 'paste', (event: ClipboardEvent) => void keep(event.clipboardData?.files ?? []))
function dropped(event: DragEvent) {
  over.value = false
  void keep(event.dataTransfer?.files ?? [])
}
async function askWithdraw(picture: Schemas['Picture']) {
  const reason = await askedFor(
    'It stays listed, with your reason, and is handed out no more.',
    'Withdraw it',
    ['Withdraw it', 'Keep it'],
  )
  if (reason) await withdraw(picture.id, reason)
}
</script>

<template>
  <div
    class="page"
    :class="{ over }"
    @dragover.prevent="over = true"
    @dragleave="over = false"
    @drop.prevent="dropped"
  >
    <problem-note :problem="problem" :retry="reload" />
    <template v-if="data">
      <header class="page-head">
        <div>
          <h1>{{ data.title }}: pictures</h1>
          <p class="soft">
            Place and owner are taken out of each file; what is drawn stands beside it, the picture stays as
            it was.
          </p>
        </div>
        <div v-if="may" class="actions">
          <input
            ref="camera"
            class="visually-hidden"
            type="file"
            accept="image/jpeg,image/png,image/webp"
            capture="environment"
            aria-label="Picture from the camera"
            @change="keep(($event.target as HTMLInputElement).files ?? [])"
          />
          <input
            ref="chooser"
            class="visually-hidden"
            type="file"
            multiple
            :accept="KINDS.join(',')"
            aria-label="Pictures and sounds"
            data-test="picture-file"
            @change="keep(($event.target as HTMLInputElement).files ?? [])"
          />
          <el-button @click="chooser?.click()">Choose, drop or paste</el-button>
          <el-button type="primary" data-test="camera" @click="camera?.click()">Take a picture</el-button>
        </div>
      </header>
      <div v-if="may" class="next">
        <el-input
          v-model="words"
          maxlength="300"
          placeholder="What it shows, for the next one that is kept"
          aria-label="What it shows"
          data-test="picture-words"
        />
        <el-select
          v-if="data.belongs.length"
          v-model="about"
          clearable
          placeholder="Of the case"
          aria-label="What it belongs to"
          data-test="picture-about"
        >
          <el-option
            v-for="one in data.belongs"
            :key="`${one.kind}:${one.id}`"
            :value="`${one.kind}:${one.id}`"
            :label="one.words"
          />
        </el-select>
      </div>
      <el-progress v-if="sent !== null" :percentage="Math.round(100 * sent)" :stroke-width="14" />
      <problem-note :problem="refusal" />
      <ul v-if="photos.length" class="photos" :aria-busy="busy">
        <li v-for="photo in photos" :key="photo.id" data-test="photo" :class="{ gone: photo.withdrawn }">
          <button
            v-if="!photo.withdrawn"
            type="button"
            class="thumb"
            :aria-label="`Open ${photo.words || 'picture'}`"
            @click="open = photo"
          >
            <span class="held" :style="{ aspectRatio: `${photo.width} / ${photo.height}` }">
              <img :src="`/api/pictures/${photo.id}/thumb/`" alt="" loading="lazy" />
              <mark-layer :marks="photo.marks" :width="photo.width" :height="photo.height" />
            </span>
          </button>
          <p>
            <strong>{{ photo.words || 'No words' }}</strong><template v-if="photo.about"
              >, {{ photo.about }}</template
            >
          </p>
          <p class="small soft">
            {{ photo.by }}, {{ whenInWords(photo.at)
            }}<template v-if="photo.withdrawn">. Withdrawn: {{ photo.withdrawn_reason }}</template>
            <button v-else-if="may" type="button" class="quiet" @click="askWithdraw(photo)">Withdraw</button>
          </p>
        </li>
      </ul>
      <p v-else class="soft" data-test="no-pictures">
        No pictures yet. A plug, a bore, the screen of another tool: what is seen once is kept here.
      </p>
      <section v-if="sounds.length">
        <h2>Sounds</h2>
        <p v-for="sound in sounds" :key="sound.id" data-test="sound">
          <strong>{{ sound.words || 'Sound' }}</strong>, {{ sound.seconds.toFixed(1) }} s, {{ sound.by }}
          <audio
            v-if="!sound.withdrawn"
            controls
            preload="none"
            :src="`/api/pictures/${sound.id}/file/`"
          ></audio>
          <span v-else class="soft">Withdrawn: {{ sound.withdrawn_reason }}</span>
        </p>
      </section>
      <mark-dialog
        :picture="open"
        :cylinders="data.cylinders"
        :may="may"
        :keep="mark"
        @closed="open = null"
      />
    </template>
  </div>
</template>

<style scoped>
.over {
  outline: 3px dashed var(--trace);
  outline-offset: -8px;
}
.next {
  display: grid;
  /* Side by side where both can be read. */
  grid-template-columns: repeat(auto-fit, minmax(min(300px, 100%), 1fr));
  gap: 12px;
}
.photos {
  list-style: none;
  margin: 16px 0;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(230px, 1fr));
  gap: 18px;
}
.photos p {
  margin: 2px 0;
}
.thumb {
  width: 100%;
  height: 190px;
  padding: 0;
  border: 1px solid var(--rule);
  background: var(--bench);
  display: grid;
  place-items: center;
  cursor: zoom-in;
}
.held {
  position: relative;
  display: block;
  max-width: 100%;
  max-height: 188px;
}
.held img {
  display: block;
  width: 100%;
  height: 100%;
  max-height: 188px;
}
.gone {
  color: var(--ink-soft);
}
</style>
