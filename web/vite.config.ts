import { fileURLToPath } from 'node:url'
import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vitest/config'
import { packedCopies } from './worker/packed.ts'
import { shellWorker } from './worker/plugin.ts'

export default defineConfig({
  plugins: [vue(), shellWorker(), packedCopies()],
  test: {
    // Threads start within the process; a fork took over a minute on a machine that was busy.
    pool: 'threads',
    environment: 'happy-dom',
    environmentOptions: { happyDOM: { url: 'http://bay.test' } },
    setupFiles: ['tests/server.ts'],
    include: ['tests/**/*.spec.ts'],
    server: { deps: { inline: ['element-plus'] } },
    coverage: {
      provider: 'v8',
      include: ['src/**/*.{ts,vue}'],
      exclude: ['src/api/schema.d.ts'],
      reporter: ['text-summary'],
    },
  },
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  server: {
    proxy: { '/api': 'http://127.0.0.1:8000', '/ws': { target: 'ws://127.0.0.1:8000', ws: true } },
  },
  build: {
    target: 'es2022',
    chunkSizeWarningLimit: 700,
    assetsInlineLimit: 0,
    rollupOptions: {
      output: {
        manualChunks(id: string) {
          if (id.includes('uplot')) return 'plot'
          // What every view needs; parts of forms go with the views that use them, so that the first one waits for few.
          if (/node_modules\/(@vue|vue|vue-router|@vueuse|openapi-fetch)\//.test(id)) return 'frame'
          return undefined
        },
      },
    },
  },
})
