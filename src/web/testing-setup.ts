import { cleanup } from '@testing-library/react';
import { afterEach, vi } from 'vitest';

// jsdom lays nothing out: it has none of these, and nothing has a size that would change
globalThis.ResizeObserver ??= class {
  observe() {}
  unobserve() {}
  disconnect() {}
};

// files share a page: what a test shows, replaces and keeps is gone before the next
afterEach(() => {
  cleanup();
  vi.useRealTimers();
  vi.restoreAllMocks();
  vi.unstubAllGlobals();
  localStorage.clear();
  sessionStorage.clear();
  document.head.querySelectorAll('style:not([data-emotion])').forEach((each) => each.remove());
});
