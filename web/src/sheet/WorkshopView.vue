<script setup lang="ts">
import { ElButton, ElInput, ElOption, ElSelect, ElSwitch } from 'element-plus'
import { computed, reactive, ref, watch } from 'vue'
import { client, unwrap, upload, type Schemas } from '@/api/client'
import { useSession } from '@/app/session'
import ProblemNote from '@/shared/ProblemNote.vue'
import { useAttempt } from '@/shared/useAttempt'
import { useLoaded } from '@/shared/useLoaded'

/** The shop as its sheets show it: name, address, logo, currency, language, and whether links are handed out. */
const session = useSession()
const { data, problem, reload } = useLoaded('workshop', 'own', (_key, signal) =>
  unwrap(client.GET('/api/workshop/', { signal })),
)
const { problem: refusal, busy, attempt } = useAttempt()
const typed = reactive({ name: '', address: '', currency: '', language: '', links_on: false })
const chooser = ref<HTMLInputElement | null>(null)
const edition = ref(0)
watch(data, (shop) => {
  if (shop) Object.assign(typed, { ...shop, language: shop.language || 'en' })
})
const changed = computed(() => {
  const shop = data.value
  if (!shop) return false
  const same = typed.name === shop.name && typed.address === shop.address && typed.currency === shop.currency
  return !same || typed.language !== (shop.language || 'en') || typed.links_on !== shop.links_on
})
const LANGUAGES = new Intl.DisplayNames(['en'], { type: 'language' })
const told = (shop: Schemas['Workshop']) => {
  data.value = shop
  edition.value += 1
}
const keep = () =>
  attempt(async () => {
    told(
      await unwrap(
        client.POST('/api/workshop/', {
          body: {
            name: typed.name,
            address: typed.address,
            currency: typed.currency,
            language: typed.language,
            links_on: typed.links_on,
          },
        }),
      ),
    )
    await session.load()
  })
const setLogo = (file: File | undefined) =>
  file &&
  attempt(async () =>
    told(await upload<Schemas['Workshop']>('/api/workshop/logo/', file, {}, () => undefined)),
  )
const dropLogo = () => attempt(async () => told(await unwrap(client.DELETE('/api/workshop/logo/'))))
</script>

<template>
  <div class="page">
    <problem-note :problem="problem" :retry="reload" />
    <template v-if="data">
      <header class="page-head">
        <div>
          <h1>Letterhead</h1>
          <p class="soft">
            What stands at the top of every sheet, and in which money and language it speaks.
          </p>
        </div>
      </header>
      <problem-note :problem="refusal" />
      <form novalidate @submit.prevent="keep">
        <label
          ><span>Name of the shop</span>
          <el-input v-model="typed.name" maxlength="120" :disabled="!data.may" data-test="shop-name"
        /></label>
        <label
          ><span>Address, a line each</span>
          <el-input
            v-model="typed.address"
            type="textarea"
            :rows="4"
            maxlength="300"
            :disabled="!data.may"
            data-test="shop-address"
        /></label>
        <label
          ><span>Currency</span>
          <el-input
            v-model="typed.currency"
            maxlength="8"
            :disabled="!data.may"
            class="short"
            data-test="shop-currency"
        /></label>
        <label
          ><span>Language of sheets</span>
          <el-select
            v-model="typed.language"
            :disabled="!data.may"
            class="short"
            aria-label="Language of sheets"
          >
            <el-option
              v-for="code in data.languages"
              :key="code"
              :value="code"
              :label="LANGUAGES.of(code) ?? code"
            /> </el-select
        ></label>
        <div class="row">
          <span>Sheets may be handed over by links that need no account</span>
          <el-switch
            v-model="typed.links_on"
            :disabled="!data.may"
            aria-label="Links"
            data-test="shop-links"
          />
        </div>
        <div class="row">
          <span>Logo</span>
          <div class="logo">
            <img v-if="data.logo" :src="`/api/workshop/logo/?${edition}`" alt="Logo" />
            <span v-else class="soft">none</span>
            <template v-if="data.may">
              <input
                ref="chooser"
                class="visually-hidden"
                type="file"
                accept="image/png,image/jpeg,image/webp"
                aria-label="Logo"
                data-test="shop-logo"
                @change="setLogo(($event.target as HTMLInputElement).files?.[0])"
              />
              <el-button :disabled="busy" @click="chooser?.click()">Choose</el-button>
              <el-button v-if="data.logo" :disabled="busy" @click="dropLogo">Take it off</el-button>
            </template>
          </div>
        </div>
        <el-button
          v-if="data.may"
          type="primary"
          native-type="submit"
          :disabled="!changed"
          :loading="busy"
          data-test="shop-keep"
          >Keep</el-button
        >
      </form>
    </template>
  </div>
</template>

<style scoped>
form {
  display: grid;
  gap: 14px;
  max-width: 760px;
}
label,
.row {
  display: grid;
  grid-template-columns: 260px 1fr;
  gap: 18px;
  align-items: center;
  min-height: 48px;
}
.short {
  max-width: 220px;
}
.logo {
  display: flex;
  gap: 14px;
  align-items: center;
}
.logo img {
  max-height: 72px;
  max-width: 200px;
  background: #fff;
  padding: 4px;
}
form > .el-button {
  justify-self: start;
}
@media (max-width: 899px) {
  label {
    grid-template-columns: minmax(0, 1fr);
    gap: 4px;
  }
  .row {
    grid-template-columns: minmax(0, 1fr) auto;
  }
}
</style>
