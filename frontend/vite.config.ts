import { fileURLToPath, URL } from 'node:url'
import vue from '@vitejs/plugin-vue'
import Components from 'unplugin-vue-components/vite'
import { ElementPlusResolver } from 'unplugin-vue-components/resolvers'
import { createHash } from 'node:crypto'
import { readFileSync, writeFileSync } from 'node:fs'
import { brotliCompressSync, gzipSync } from 'node:zlib'
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

/** Packs programs and styles once they are written, as tightly as it goes: the server hands them out as they are. */
const packed = (): Plugin => ({
  name: 'packed',
  writeBundle({ dir }, bundle) {
    for (const name of Object.keys(bundle)) {
      if (!/^assets\/.*\.(js|css)$/.test(name)) continue
      const content = readFileSync(`${dir}/${name}`)
      writeFileSync(`${dir}/${name}.br`, brotliCompressSync(content))
      writeFileSync(`${dir}/${name}.gz`, gzipSync(content, { level: 9 }))
    }
  },
})

const notOfWorker = (module: string) => !/workbox|src\/sw\.ts/.test(module)

export default defineConfig({
  plugins: [
    vue(),
    // Only the controls of the library are registered; our own are imported by name.
    filesOfThisVersion(),
    packed(),
    Components({ dirs: [], dts: 'src/components.d.ts', resolvers: [ElementPlusResolver()] }),
  ],
  resolve: {
    alias: {
      '@': fileURLToPath(new URL('./src', import.meta.url)),
      '@ctrl/tinycolor': fileURLToPath(new URL('./src/no-colours.ts', import.meta.url)),
    },
  },
  server: { proxy: { '/api': `http://${server}`, '/pictograms': `http://${server}` } },
  build: {
    emptyOutDir: true,
    cssCodeSplit: false, // all of it is smaller than what each of its parts costs to ask for
    target: 'es2022',
    modulePreload: { polyfill: false },
    rolldownOptions: {
      input: { index: 'index.html', sw: 'src/sw.ts' },
      output: {
        entryFileNames: ({ name }) => (name === 'sw' ? 'sw.js' : 'assets/[name]-[hash].js'),
        // A page asks for few files: what every page needs is one, and what pages share with one another is in some larger ones.
        codeSplitting: {
          groups: [
            { name: 'frame', tags: ['$initial'], test: notOfWorker, priority: 1 },
            { name: 'lists', test: /element-plus(?!.*checkbox)|@popperjs|lodash-es|(Select|Text)Field/, minShareCount: 8 },
            { name: 'plots', test: /[\\/]d3-|XYPlot/, minShareCount: 3 },
            { name: 'bench', test: /frontend[\\/]src/, minShareCount: 4, maxModuleSize: 6_000 },
            {
              name: 'shared',
              test: /frontend[\\/]src/,
              minShareCount: 3,
              entriesAware: true,
              entriesAwareMergeThreshold: 8_000,
            },
          ],
        },
      },
    },
  },
})
