import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { stopwatch } from './stopwatch';

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

test('what passes while it is paused does not count, however often it is; stopped, or started anew, it forgets', () => {
  const over = vi.fn();
  const watch = stopwatch(over);
  watch.start(100);
  vi.advanceTimersByTime(60);
  watch.pause();
  watch.pause();
  vi.advanceTimersByTime(10_000);
  watch.resume();
  vi.advanceTimersByTime(10_000);
  watch.resume();
  vi.advanceTimersByTime(39);
  expect(over).not.toHaveBeenCalled();
  vi.advanceTimersByTime(1);
  expect(over).toHaveBeenCalledOnce();
  watch.start(100);
  watch.stop();
  vi.advanceTimersByTime(1000);
  watch.start(100);
  vi.advanceTimersByTime(99);
  expect(over).toHaveBeenCalledOnce();
  vi.advanceTimersByTime(1);
  expect(over).toHaveBeenCalledTimes(2);
});
