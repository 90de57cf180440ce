/** Calls `over` once so many ms have passed in which it was not paused; it stays paused until it was resumed as often. */
export function stopwatch(over: () => void): { start(ms: number): void; pause(): void; resume(): void; stop(): void } {
  let left = 0;
  let paused = 0;
  let since = 0;
  let timer: NodeJS.Timeout | undefined;
  const run = () => {
    since = performance.now();
    timer = setTimeout(over, left);
  };
  const hold = () => {
    if (timer) left -= performance.now() - since;
    clearTimeout(timer);
    timer = undefined;
  };
  return {
    start(ms: number) {
      hold();
      left = ms;
      paused = 0;
      run();
    },
    pause() {
      hold();
      paused += 1;
    },
    resume() {
      paused -= 1;
      if (paused === 0) run();
    },
    stop: hold,
  };
}
