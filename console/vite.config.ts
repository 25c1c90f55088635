import react from '@vitejs/plugin-react'
import { defineConfig } from 'vite'

// The console is served by the service itself; while developing, calls go to a service on its usual port.
export default defineConfig({
  plugins: [react()],
  build: { outDir: 'dist', chunkSizeWarningLimit: 2000 },
  server: {
    proxy: {
      '/api': { target: 'http://127.0.0.1:8711', changeOrigin: true, headers: { origin: 'http://127.0.0.1:8711' } },
    },
  },
})
