import { fileURLToPath, URL } from 'node:url'
import vue from '@vitejs/plugin-vue'
import Components from 'unplugin-vue-components/vite'
import { ElementPlusResolver } from 'unplugin-vue-components/resolvers'
import { createHash } from 'node:crypto'
import { defineConfig, type Plugin } from 'vite'

const server = process.env.VIALBENCH_ADDR ?? '127.0.0.1:8484'

/** Tells the service worker the files of this version. Their names have their content in them; the page has
 * theirs in it. */
const filesOfThisVersion = (): Plugin => ({
  name: 'files-of-this-version',
  enforce: 'post',
  generateBundle(_, bundle) {
    const files = Object.keys(bundle).filter((name) => /^assets\/.*\.(js|css|woff2|gz)$/.test(name))
    const version = createHash('sha256').update(files.sort().join()).digest('hex').slice(0, 16)
    const list = [
      ...files.map((name) => ({ url: `/${name}`, revision: null })),
      ...['/', '/mark.svg', '/manifest.json'].map((url) => ({ url, revision: version })),
    ]
    const worker = bundle['sw.js']
    if (worker?.type === 'chunk') worker.code = worker.code.replace('FILES_OF_THIS_VERSION', JSON.stringify(list))
  },
})

export default defineConfig({
  plugins: [
    vue(),
    // Only the controls of the library are registered; our own are imported by name.
    filesOfThisVersion(),
    Components({ dirs: [], dts: 'src/components.d.ts', resolvers: [ElementPlusResolver()] }),
  ],
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  server: { proxy: { '/api': `http://${server}`, '/pictograms': `http://${server}` } },
  build: {
    emptyOutDir: true,
    target: 'es2022',
    modulePreload: { polyfill: false },
    rolldownOptions: {
      input: { index: 'index.html', sw: 'src/sw.ts' },
      output: { entryFileNames: ({ name }) => (name === 'sw' ? 'sw.js' : 'assets/[name]-[hash].js') },
    },
  },
})
