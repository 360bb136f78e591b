import tailwind from '@tailwindcss/vite'
import react from '@vitejs/plugin-react'
import { defineConfig } from 'vite'
import { compression, defineAlgorithm } from 'vite-plugin-compression2'

/**
 * What is small and stands in most places goes in one file: each file costs the headers of its answer, and packs worse alone.
 * Nothing that brings a library along may be in it.
 */
const SMALL_PARTS = {
  name: 'small-parts',
  test: /web\/src\/(figures\/|api\/page-sets|rules\/(words|use-draft|rule-rows)|ledger\/(use-mark|no-sweep|use-sheet|sheet)|frame\/(site-context|read-next)|sites\/first-site|parts\/(button|notice|window|lazily|toast|place-head|menu|pop-up|when-pressed|choose-file|use-address|remembered)\.)/,
}

export default defineConfig({
  plugins: [
    react(),
    tailwind(),
    // Packed once, when it is built, as hard as it goes; the server hands out what the browser takes.
    compression({
      include: /\.(js|css|html|svg)$/,
      threshold: 500,
      algorithms: [defineAlgorithm('brotliCompress'), defineAlgorithm('gzip', { level: 9 })],
    }),
  ],
  build: {
    target: 'es2022',
    rolldownOptions: { output: { codeSplitting: { groups: [SMALL_PARTS] } } },
  },
  server: { proxy: { '/api': 'http://127.0.0.1:4600' } },
})
