import '@fontsource-variable/source-sans-3'
import '@fontsource-variable/vollkorn'
import './theme/tokens.css'
import { VueQueryPlugin } from '@tanstack/vue-query'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import { QUERIES } from './api/queries'
import App from './App.vue'
import { router } from './router'
import './theme/scheme'
import { focus } from './parts/focus'
import { needs } from './parts/needs'
import { vuetify } from './theme/vuetify'
import './theme/base.css'

createApp(App)
  .use(createPinia())
  .use(vuetify)
  .use(router)
  .directive('focus', focus)
  .directive('needs', needs)
  .use(VueQueryPlugin, {
    queryClientConfig: { defaultOptions: { queries: QUERIES } },
  })
  .mount('#app')
