import '@fontsource/atkinson-hyperlegible-next/latin-400.css'
import '@fontsource/atkinson-hyperlegible-next/latin-600.css'
import '@fontsource/atkinson-hyperlegible-next/latin-700.css'
import '@fontsource/atkinson-hyperlegible-mono/latin-400.css'
import '@fontsource/atkinson-hyperlegible-mono/latin-600.css'
import 'element-plus/dist/index.css'
import './app/theme.css'
import './app/layout.css'
import { VueQueryPlugin } from '@tanstack/vue-query'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './app/App.vue'
import { whenSignedOut } from './api/client'
import { router } from './app/router'
import { useSession } from './app/session'
import { forgetAll, queries } from './shared/useLoaded'

createApp(App).use(createPinia()).use(VueQueryPlugin, { queryClient: queries }).use(router).mount('#app')

/** To the door, and back to the same page afterwards. */
whenSignedOut(() => {
  useSession().expire()
  forgetAll()
  const { name, fullPath } = router.currentRoute.value
  if (name !== 'login') void router.push({ name: 'login', query: { next: fullPath } })
})

/** Installed where the browser allows it: over HTTPS, or on the machine itself. */
if (import.meta.env.PROD && 'serviceWorker' in navigator)
  void navigator.serviceWorker.register('/worker.js').catch(() => undefined)
