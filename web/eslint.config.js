import { defineConfigWithVueTs, vueTsConfigs } from '@vue/eslint-config-typescript'
import prettier from 'eslint-config-prettier'
import vue from 'eslint-plugin-vue'

export default defineConfigWithVueTs(
  { ignores: ['dist/**', 'src/api/schema.gen.ts'] },
  vue.configs['flat/recommended'],
  vueTsConfigs.recommended,
  prettier,
  {
    rules: {
      'vue/multi-word-component-names': 'off',
      'vue/require-default-prop': 'off',
    },
  },
  {
    // What computes and what is kept know no component.
    files: ['src/lib/**', 'src/stores/**', 'src/api/**'],
    rules: { 'no-restricted-imports': ['error', { patterns: ['@/components/*', '@/views/*', '*.vue'] }] },
  },
)
