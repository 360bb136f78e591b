import tailwind from '@tailwindcss/vite'
import react from '@vitejs/plugin-react'
import { defineConfig } from 'vite'
import { compression, defineAlgorithm } from 'vite-plugin-compression2'

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
  build: { target: 'es2022' },
  server: { proxy: { '/api': 'http://127.0.0.1:4600' } },
})
