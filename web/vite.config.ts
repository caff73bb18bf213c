import tailwindcss from '@tailwindcss/vite'
import react from '@vitejs/plugin-react'
import { defineConfig } from 'vite'

const api = process.env.KITELOOM_API ?? 'http://127.0.0.1:8127'

export default defineConfig({
  resolve: { alias: { '@': new URL('./src', import.meta.url).pathname } },
  plugins: [react(), tailwindcss()],
  // Everything the page needs is a file of its own: the policy allows no inline script.
  build: { assetsInlineLimit: 0, modulePreload: { polyfill: false } },
  server: { host: '127.0.0.1', port: 8128, proxy: { '/api': api } },
})
