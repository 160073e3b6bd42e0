import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { constants, gzipSync } from 'node:zlib'
import type { Plugin } from 'vite'

/** Lays a packed copy beside every script and style; the server hands out whichever the browser asks for. */
export function packedCopies(): Plugin {
  return {
    name: 'packed-copies',
    apply: 'build',
    writeBundle({ dir }, bundle) {
      if (!dir) throw new Error('a build writes into a folder')
      for (const name of Object.keys(bundle).filter((file) => /\.(js|css|svg)$/.test(file))) {
        const path = join(dir, name)
        writeFileSync(`${path}.gz`, gzipSync(readFileSync(path), { level: constants.Z_BEST_COMPRESSION }))
      }
    },
  }
}
