import react from '@vitejs/plugin-react'
import { defineConfig } from 'vitest/config'

// Both pages are built into one folder that the server hands out under /static/.
export default defineConfig({
  base: '/static/',
  plugins: [react()],
  build: {
    target: 'es2022',
    chunkSizeWarningLimit: 1500,
    assetsInlineLimit: 0,
    rollupOptions: { input: { index: 'index.html', embed: 'embed.html' } },
  },
  server: { fs: { allow: ['..'] } },
  test: { environment: 'happy-dom', include: ['src/**/*.test.{ts,tsx}'] },
})
