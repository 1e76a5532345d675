import { createApp, type Component } from 'vue'
import '@fontsource-variable/atkinson-hyperlegible-next/wght.css'
import '@fontsource/atkinson-hyperlegible-mono/400.css'
import '@fontsource/atkinson-hyperlegible-mono/700.css'
import 'element-plus/theme-chalk/base.css'
import '@/design/tokens.css'
import BuretteDrawing from '@/areas/titrations/BuretteDrawing.vue'
import CurvePlot from '@/areas/titrations/CurvePlot.vue'
import TabRow from '@/design/TabRow.vue'
import XYPlot from '@/design/XYPlot.vue'

// Drawings and panels alone on a page, with what a test gives them.
const parts: Record<string, Component> = { BuretteDrawing, CurvePlot, TabRow, XYPlot }

let app: ReturnType<typeof createApp> | undefined
Object.assign(window, { show })
function show(part: string, props: Record<string, unknown>) {
  app?.unmount()
  app = createApp(parts[part]!, props)
  app.mount('#part')
}
