import { forgetDrafts } from './broadcasts/sheet/held-drafts';
import { notifyManager } from '@tanstack/react-query';
import { cleanup } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, vi } from 'vitest';

// jsdom lays nothing out: it has none of these, and nothing has a size that would change
globalThis.ResizeObserver ??= class {
  observe() {}
  unobserve() {}
  disconnect() {}
};

// what was asked is shown once it is there: by a timer of its own it would come after a test that waits for the answer has looked
notifyManager.setScheduler(queueMicrotask);

// what lies over what is for a real browser to say (e2e): here each press would ask jsdom for the styles of a whole page, a third of the time
const { setup } = userEvent;
Object.assign(userEvent, {
  setup: (options?: Parameters<typeof setup>[0]) => setup({ pointerEventsCheck: 0, ...options }),
});

// files share a page: what a test shows, replaces and keeps is gone before the next
afterEach(() => {
  cleanup();
  forgetDrafts();
  vi.useRealTimers();
  vi.restoreAllMocks();
  vi.unstubAllGlobals();
  localStorage.clear();
  sessionStorage.clear();
});
