import tailwindcss from '@tailwindcss/vite'
import vue from '@vitejs/plugin-vue'
import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { brotliCompressSync, constants, gzipSync } from 'node:zlib'
import type { Plugin } from 'vite'
import { defineConfig } from 'vitest/config'

/** Lays every text file of the build down packed as well, so that the server need not pack it for each visit. */
function packed(): Plugin {
  let out = 'dist'
  return {
    name: 'packed',
    apply: 'build',
    configResolved: (c) => void (out = c.build.outDir),
    writeBundle(_, bundle) {
      for (const name of [...Object.keys(bundle), 'keystone.svg']) {
        if (!/\.(js|css|html|svg)$/.test(name)) continue
        const body = readFileSync(join(out, name))
        if (body.length < 1024) continue
        writeFileSync(join(out, `${name}.gz`), gzipSync(body, { level: 9 }))
        writeFileSync(
          join(out, `${name}.br`),
          brotliCompressSync(body, { params: { [constants.BROTLI_PARAM_QUALITY]: 11 } }),
        )
      }
    },
  }
}

export default defineConfig({
  // Space between two things in a template is a space on the page, also where the formatter breaks the line there.
  plugins: [vue({ template: { compilerOptions: { whitespace: 'preserve' } } }), tailwindcss(), packed()],
  build: { assetsInlineLimit: 0, emptyOutDir: true, outDir: 'dist' },
  server: { port: 5173, proxy: { '/api': { target: 'http://127.0.0.1:8470', ws: true } } },
  test: { environment: 'happy-dom', include: ['src/**/*.test.ts'], setupFiles: ['src/test/setup.ts'] },
})
