import { fileURLToPath, URL } from 'node:url'
import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vite'

export default defineConfig({
  root: fileURLToPath(new URL('.', import.meta.url)),
  base: './',
  plugins: [vue()],
  resolve: { alias: { '@': fileURLToPath(new URL('../../frontend/src', import.meta.url)) } },
  build: { emptyOutDir: true, target: 'es2022', modulePreload: false },
})
