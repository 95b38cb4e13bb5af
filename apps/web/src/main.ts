import { createPinia } from 'pinia'
import { createApp } from 'vue'
import { z } from 'zod'
import './app.css'
import { router } from './router'
import App from './shell/App.vue'
import { sayWhatIsRefused } from './shell/refused'

// The policy of the page forbids evaluated code, which the fast path of the schemas would need.
z.config({ jitless: true })

const app = createApp(App).use(createPinia()).use(router)
sayWhatIsRefused(app, router)
app.mount('#app')
