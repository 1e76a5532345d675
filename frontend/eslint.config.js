import { defineConfigWithVueTs, vueTsConfigs } from '@vue/eslint-config-typescript'
import prettier from 'eslint-config-prettier'
import pluginVue from 'eslint-plugin-vue'

export default defineConfigWithVueTs(
  { ignores: ['dist/**', 'src/api/schema.d.ts', 'src/components.d.ts', 'src/ahead/wasm_exec.js'] },
  pluginVue.configs['flat/recommended'],
  vueTsConfigs.recommended,
  prettier,
)
