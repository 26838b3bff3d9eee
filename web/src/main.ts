import '@fontsource-variable/atkinson-hyperlegible-next/index.css'
import '@fontsource-variable/spline-sans-mono/index.css'
import './theme/tokens.css'
import './theme/base.css'
import { createPinia } from 'pinia'
import PrimeVue from 'primevue/config'
import { createApp } from 'vue'
import App from './App.vue'
import { installable } from './lib/installable'
import { nonce } from './lib/nonce'
import { router } from './router'
import { preset } from './theme/preset'

createApp(App)
  .use(createPinia())
  .use(router)
  .use(PrimeVue, {
    csp: { nonce },
    theme: { preset, options: { darkModeSelector: 'none' } },
    locale: {
      emptyMessage: 'Nothing to choose from yet',
      emptySearchMessage: 'No match',
      emptyFilterMessage: 'No match',
    },
  })
  .mount('#app')

void installable()
