import react from '@vitejs/plugin-react';
import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vite';

const source = (path: string) => fileURLToPath(new URL(path, import.meta.url));
const server = `http://localhost:${process.env.LANTERN_PORT ?? 4700}`;

export default defineConfig({
  plugins: [react()],
  resolve: {
    alias: { '@lantern/core': source('../core/src/index.ts'), '@lantern/contract': source('../contract/src/index.ts') },
  },
  worker: { format: 'es' },
  build: { target: 'es2022', chunkSizeWarningLimit: 900, rollupOptions: { input: { index: source('index.html'), house: source('house.html') } } },
  css: { preprocessorOptions: { scss: { quietDeps: true, silenceDeprecations: ['import', 'global-builtin', 'color-functions', 'if-function'] } } },
  server: { proxy: { '/api': { target: server, ws: true }, '/health': server, '^/(on|at|s|embed|calendar|reminders)/': server } },
});
