import { fileURLToPath, URL } from 'node:url'
import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vitest/config'
import vuetify from 'vite-plugin-vuetify'

export default defineConfig(({ command }) => ({
  plugins: [vue(), vuetify({ autoImport: true })],
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  base: command === 'build' ? './' : '/', // the server says in the page below which path it serves
  build: { target: 'es2022', chunkSizeWarningLimit: 700 },
  server: { proxy: { '/api': 'http://127.0.0.1:8420' } },
  test: {
    environment: 'happy-dom',
    pool: 'vmThreads',
    environmentOptions: { happyDOM: { url: 'http://127.0.0.1/' } },
    include: ['src/**/*.test.ts'],
    setupFiles: ['src/testing/setup.ts'],
    restoreMocks: true,
    testTimeout: 60_000, // a loaded machine is slow, not wrong
    hookTimeout: 60_000,
    coverage: {
      provider: 'v8',
      include: ['src/**/*.ts'],
      exclude: ['src/api/schema.ts', 'src/**/*.test.ts', 'src/testing/**', 'src/main.ts'],
      reporter: ['json-summary'],
    },
  },
}))
