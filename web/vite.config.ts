import tailwindcss from '@tailwindcss/vite'
import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vite'

export default defineConfig({
  plugins: [vue(), tailwindcss()],
  build: { assetsInlineLimit: 0, emptyOutDir: true, outDir: 'dist' },
  server: { port: 5173, proxy: { '/api': { target: 'http://127.0.0.1:8470', ws: true } } },
})
