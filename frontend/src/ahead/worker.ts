import coreUrl from './core.wasm.gz?url'
import execUrl from './wasm_exec.js?url'

/** The core in the browser, beside the page: loaded while there is a network, started when it is needed. */
interface GoRuntime {
  importObject: WebAssembly.Imports
  run: (instance: WebAssembly.Instance) => Promise<void>
}
const scope = globalThis as unknown as { Go: new () => GoRuntime; carryOn: (question: string) => string }

const loaded = (async () => {
  const [core] = await Promise.all([
    fetch(coreUrl).then((answer) =>
      new Response(answer.body!.pipeThrough(new DecompressionStream('gzip'))).arrayBuffer(),
    ),
    import(/* @vite-ignore */ new URL(execUrl, self.location.origin).href),
  ])
  return core
})()
loaded.then(
  () => self.postMessage({ ready: true }),
  () => self.postMessage({ ready: false }),
)

let started: Promise<void> | undefined
async function start() {
  const go = new scope.Go()
  const { instance } = await WebAssembly.instantiate(await loaded, go.importObject)
  void go.run(instance) // until the page goes
}

self.onmessage = async ({ data: { id, question } }: MessageEvent<{ id: number; question: string }>) => {
  try {
    await (started ??= start())
    self.postMessage({ id, answer: scope.carryOn(question) })
  } catch (error) {
    self.postMessage({ id, failed: String(error) })
  }
}
