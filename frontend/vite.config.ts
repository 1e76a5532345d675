import { fileURLToPath, URL } from 'node:url'
import vue from '@vitejs/plugin-vue'
import Components from 'unplugin-vue-components/vite'
import { ElementPlusResolver } from 'unplugin-vue-components/resolvers'
import { defineConfig } from 'vite'

const server = process.env.VIALBENCH_ADDR ?? '127.0.0.1:8484'

export default defineConfig({
  plugins: [
    vue(),
    // Only the controls of the library are registered; our own are imported by name.
    Components({ dirs: [], dts: 'src/components.d.ts', resolvers: [ElementPlusResolver()] }),
  ],
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  server: { proxy: { '/api': `http://${server}`, '/pictograms': `http://${server}` } },
  build: { emptyOutDir: true, target: 'es2022', modulePreload: { polyfill: false } },
})
