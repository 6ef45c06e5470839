import { defineConfig, type Plugin } from 'vite'

/** The map's painter asks of each layer whether it is one of single shapes, and would bring all that draws those: a sixth of the script. Pages
 * have none. */
const noLayersOfSingleShapes: Plugin = {
  name: 'no-layers-of-single-shapes',
  enforce: 'pre',
  resolveId: (id) => (/\/layer\/BaseVector(\.js)?$/.test(id) ? '\0no-such-layer' : null),
  load: (id) => (id === '\0no-such-layer' ? 'export default class {}' : null),
}

// The script of readers' pages, which goes into every edition: names without digests, addresses relative to the page.
export default defineConfig({
  base: './',
  plugins: [noLayersOfSingleShapes],
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
