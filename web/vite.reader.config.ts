import { defineConfig } from 'vite'

// The script of readers' pages, which goes into every edition: names without digests, addresses relative to the page.
export default defineConfig({
  base: './',
  publicDir: false,
  build: {
    target: 'es2022',
    outDir: '../core/greylatch/edition/page',
    emptyOutDir: true,
    assetsInlineLimit: 0,
    cssCodeSplit: false,
    rollupOptions: {
      input: 'src/reader/main.ts',
      output: {
        entryFileNames: 'reader.js',
        chunkFileNames: '[name].js',
        assetFileNames: ({ names }) => (names[0]?.endsWith('.css') ? 'reader.css' : '[name][extname]'),
      },
    },
  },
})
