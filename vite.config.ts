import { defineConfig } from 'vite';
import react from '@vitejs/plugin-react';

// The nonce placeholder is replaced per response by src/server/http/pages.ts.
export default defineConfig({
  root: 'src/web',
  plugins: [react()],
  html: { cspNonce: '__NONCE__' },
  build: {
    outDir: '../../dist/web',
    emptyOutDir: true,
    sourcemap: false,
    chunkSizeWarningLimit: 900,
  },
});
