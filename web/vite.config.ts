import react from '@vitejs/plugin-react'
import { defineConfig } from 'vitest/config'

// The editor is built into a folder that the server hands out under /static/.
export default defineConfig({
  base: '/static/',
  plugins: [react()],
  build: {
    target: 'es2022',
    chunkSizeWarningLimit: 1500,
    assetsInlineLimit: 0,
    rollupOptions: { input: 'index.html' },
  },
  server: { fs: { allow: ['..'] } },
  test: { environment: 'happy-dom', include: ['src/**/*.test.{ts,tsx}'], setupFiles: ['src/patience.ts'], testTimeout: 20_000 },
})
