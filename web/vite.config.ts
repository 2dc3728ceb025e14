import react from '@vitejs/plugin-react';
import { fileURLToPath } from 'node:url';
import { defineConfig, type Plugin } from 'vite';

const source = (path: string) => fileURLToPath(new URL(path, import.meta.url));
const server = `http://localhost:${process.env.LANTERN_PORT ?? 4700}`;

/** What stands in the page itself is painted before the look has come: stylesheets are named behind it, and not before. */
const lookBehindShell: Plugin = {
  name: 'look-behind-shell',
  transformIndexHtml: {
    order: 'post',
    handler(html) {
      if (!html.includes('<!--look-->')) return html;
      const links: string[] = [];
      const rest = html.replace(/\s*<link rel="stylesheet"[^>]*>/g, (link) => {
        links.push(link.trim());
        return '';
      });
      return rest.replace('<!--look-->', links.join('\n    '));
    },
  },
};

export default defineConfig({
  plugins: [react(), lookBehindShell],
  resolve: {
    alias: { '@lantern/core': source('../core/src/index.ts'), '@lantern/contract': source('../contract/src/index.ts') },
  },
  worker: { format: 'es' },
  build: { target: 'es2022', chunkSizeWarningLimit: 900, rollupOptions: { input: { index: source('index.html'), house: source('house.html') } } },
  css: { preprocessorOptions: { scss: { quietDeps: true, silenceDeprecations: ['import', 'global-builtin', 'color-functions', 'if-function'] } } },
  server: { proxy: { '/api': { target: server, ws: true }, '/health': server, '^/(on|at|s|embed|calendar|reminders)/': server } },
});
