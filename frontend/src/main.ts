import '@fontsource-variable/atkinson-hyperlegible-next/wght.css'
import '@fontsource/atkinson-hyperlegible-mono/400.css'
import '@fontsource/atkinson-hyperlegible-mono/700.css'
import 'element-plus/theme-chalk/base.css'
import './design/tokens.css'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import { keepPage } from './api/version'
import App from './App.vue'
import { router } from './router'

createApp(App).use(createPinia()).use(router).mount('#app')
keepPage()
