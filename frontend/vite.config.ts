import react from '@vitejs/plugin-react'
import { defineConfig } from 'vitest/config'

// Tests look at a clock that is not that of the world.
if (process.env.VITEST) process.env.TZ = 'America/Denver'

export default defineConfig({
  plugins: [react()],
  server: { port: 5173, proxy: { '/api': { target: 'http://127.0.0.1:8790', changeOrigin: true } } },
  build: { chunkSizeWarningLimit: 900 },
  // One browser's likeness and one set of modules for all files: to make them anew for each took three quarters of the time.
  test: { pool: 'threads', isolate: false, environment: 'jsdom', include: ['src/**/*.test.ts', 'src/**/*.test.tsx'] },
})
