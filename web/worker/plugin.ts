import { createHash } from 'node:crypto'
import { readFileSync } from 'node:fs'
import type { Plugin } from 'vite'

/** Emits the worker with the files of this build written into it; a build with other files is another shelf. */
export function shellWorker(): Plugin {
  return {
    name: 'shell-worker',
    apply: 'build',
    generateBundle(_options, bundle) {
      const built = Object.keys(bundle).filter((name) => /\.(js|css|woff2)$/.test(name))
      const files = ['/', '/mark.svg', '/manifest.webmanifest', ...built.map((name) => `/${name}`)].sort()
      const mark = createHash('sha256').update(files.join('\n')).digest('hex').slice(0, 12)
      const source = readFileSync(new URL('./shell.js', import.meta.url), 'utf8')
        .replace('[] /* filled in when built */', JSON.stringify(files))
        .replace("'' /* filled in when built */", `'${mark}'`)
      this.emitFile({ type: 'asset', fileName: 'worker.js', source })
    },
  }
}
