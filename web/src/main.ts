import '@fontsource-variable/hanken-grotesk'
import '@fontsource-variable/spline-sans-mono'
import { VueQueryPlugin } from '@tanstack/vue-query'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './app/App.vue'
import { router } from './app/router'
import { client } from './core/query'
import './styles.css'

createApp(App).use(createPinia()).use(VueQueryPlugin, { queryClient: client }).use(router).mount('#app')
